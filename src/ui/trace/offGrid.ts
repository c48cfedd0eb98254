import type { ScaleLinear } from 'd3-scale';
import type { OffGrid } from '@/core/rhythm/offGrid';
import { signedText } from '@/words/figures';
import type { Inks } from './useInks';

/** Half the width of a mark, pixels. */
const HALF = 4;

/** Marks hits off the grid above their foot, and says of the one in hand by how much it is off. */
export function drawOffGrid(
  context: CanvasRenderingContext2D,
  x: ScaleLinear<number, number>,
  bottom: number,
  inks: Inks,
  late: readonly OffGrid[],
  inHand: OffGrid | null = null,
) {
  context.fillStyle = inks.look;
  for (const { time } of late) {
    const px = x(time);
    context.beginPath();
    context.moveTo(px - HALF, bottom - 2 * HALF);
    context.lineTo(px + HALF, bottom - 2 * HALF);
    context.lineTo(px, bottom - 1);
    context.fill();
  }
  if (!inHand) return;
  const px = Math.round(x(inHand.time));
  context.fillRect(px, 20, 1, bottom - 20);
  context.font = '11px "Spline Sans Mono Variable", monospace';
  context.textBaseline = 'middle';
  context.textAlign = inHand.ms > 0 ? 'left' : 'right';
  context.fillText(signedText(inHand.ms, 1, 'ms'), px + (inHand.ms > 0 ? 5 : -5), 30);
}
