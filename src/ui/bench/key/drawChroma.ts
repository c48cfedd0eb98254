import type { Key } from '@/core/harmony/keyNames';
import { noteName, scaleNotes } from '@/core/harmony/scale';
import type { ChromaRows, Traces } from '@/core/traces/traces';
import { chromaTotal } from '@/core/harmony/keyReasons';
import type { Inks } from '../../trace/useInks';

const MONO = '"Spline Sans Mono Variable", monospace';
const NAMES = 44;
const TOTALS = 150;
const FOOT = 16;

/**
 * Draws the chroma of a sample over time and in total, the tonic of `key` (C without one) lowest; notes of
 * the scale stand on paper, foreign ones on sunk ground.
 */
export function drawChroma(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  inks: Inks,
  { chords, bass, durationSeconds }: Pick<Traces, 'chords' | 'bass' | 'durationSeconds'>,
  key: Key | null,
) {
  const tonic = key?.tonic ?? 0;
  const scale = new Set(key ? scaleNotes(key) : Array.from({ length: 12 }, (_, i) => i));
  const lane = (height - FOOT) / 12;
  const right = width - TOTALS;
  context.fillStyle = inks.paper;
  context.fillRect(0, 0, width, height);
  const total = chromaTotal(chords.rows);
  const low = chromaTotal(bass.rows);
  const most = Math.max(1e-9, ...total);
  const mostLow = Math.max(1e-9, ...low);
  context.textBaseline = 'middle';
  for (let step = 0; step < 12; step++) {
    const pitchClass = (tonic + step) % 12;
    const top = (11 - step) * lane;
    const inScale = scale.has(pitchClass);
    const isTonic = key !== null && step === 0;
    context.fillStyle = inScale ? inks.sheet : inks.sunk;
    context.fillRect(NAMES, top, right - NAMES, lane - 1);
    drawLane(context, chords, durationSeconds, pitchClass, { left: NAMES, right, top, lane: lane - 1 }, inks);
    context.font = `${inScale ? '600 ' : ''}12px ${MONO}`;
    context.textAlign = 'right';
    context.fillStyle = isTonic ? inks.one : inScale ? inks.ink : inks['ink-soft'];
    context.fillText(
      `${noteName(pitchClass, key ?? { tonic: 0, mode: 'major' })}${inScale ? '' : ' ·'}`,
      NAMES - 6,
      top + lane / 2,
    );
    // Totals: all notes as a bar, the bass as a line below it.
    const full = TOTALS - 16;
    context.fillStyle = isTonic ? inks.one : inScale ? inks.trace : inks['trace-soft'];
    context.fillRect(right + 8, top + lane * 0.2, (full * total[pitchClass]) / most, lane * 0.36);
    context.fillStyle = inks['band-middle'];
    context.fillRect(
      right + 8,
      top + lane * 0.62,
      (full * low[pitchClass]) / mostLow,
      Math.max(2, lane * 0.14),
    );
  }
  context.fillStyle = inks['rule-strong'];
  context.fillRect(right, 0, 1, height - FOOT);
  context.font = `10px ${MONO}`;
  context.textAlign = 'left';
  context.fillStyle = inks['ink-soft'];
  context.fillText('all notes, bass below', right + 8, height - FOOT / 2);
  const ticks = 4;
  for (let i = 0; i <= ticks; i++) {
    const time = (durationSeconds * i) / ticks;
    context.textAlign = i === ticks ? 'right' : 'left';
    context.fillText(`${time.toFixed(1)} s`, NAMES + ((right - NAMES) * i) / ticks, height - FOOT / 2);
  }
  context.textAlign = 'left';
}

function drawLane(
  context: CanvasRenderingContext2D,
  { rate, rows }: ChromaRows,
  durationSeconds: number,
  pitchClass: number,
  box: { left: number; right: number; top: number; lane: number },
  inks: Inks,
) {
  const perSecond = (box.right - box.left) / durationSeconds;
  const count = rows.length / 12;
  context.fillStyle = inks.trace;
  for (let i = 0; i < count; i++) {
    const value = rows[i * 12 + pitchClass] / 255;
    if (value < 0.03) continue;
    // Strength is height and ink at once: a strip that swells.
    const tall = Math.max(1, box.lane * Math.sqrt(value));
    context.globalAlpha = 0.25 + 0.75 * value;
    const from = Math.round(box.left + (i / rate) * perSecond);
    const to = Math.min(box.right, Math.round(box.left + ((i + 1) / rate) * perSecond));
    context.fillRect(from, box.top + (box.lane - tall) / 2, Math.max(1, to - from), tall);
  }
  context.globalAlpha = 1;
}
