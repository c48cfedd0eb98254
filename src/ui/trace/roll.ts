import type { Inks } from './useInks';
import type { Window } from './waveform';

/** A note as it is drawn. */
export interface RollNote {
  time: number;
  seconds: number;
  /** MIDI note number. */
  key: number;
  /** 1 … 127. */
  velocity: number;
}

/** A note is drawn at least so long, pixels. */
const SHORTEST = 2;
/** So many notes are parted by rules. */
const OCTAVE = 12;

/** Draws the notes of a stretch into a box, high ones on top; how hard one is struck is told by how dark and how thick it is. */
export function drawRoll(
  context: CanvasRenderingContext2D,
  view: Window,
  box: { x: number; y: number; width: number; height: number },
  notes: readonly RollNote[],
  inks: Inks,
) {
  const { x, y, width, height } = box;
  const seen = notes.filter(({ time, seconds }) => time < view.to && time + seconds > view.from);
  const keys = notes.map(({ key }) => key);
  const [low, high] = keys.length ? [Math.min(...keys) - 2, Math.max(...keys) + 3] : [48, 73];
  const span = Math.max(OCTAVE, high - low);
  const row = height / span;
  context.save();
  context.beginPath();
  context.rect(x, y, width, height);
  context.clip();
  context.fillStyle = inks.rule;
  for (let key = Math.ceil(low / OCTAVE) * OCTAVE; key < low + span; key += OCTAVE)
    context.fillRect(x, Math.round(y + height - (key - low) * row), width, 1);
  const perSecond = width / (view.to - view.from);
  for (const { time, seconds, key, velocity } of seen) {
    const thick = Math.max(1.5, row * (0.35 + 0.6 * (velocity / 127)));
    const top = y + height - (key - low + 0.5) * row - thick / 2;
    context.fillStyle = inks.trace;
    context.globalAlpha = 0.35 + 0.65 * (velocity / 127);
    context.fillRect(x + (time - view.from) * perSecond, top, Math.max(SHORTEST, seconds * perSecond), thick);
    context.globalAlpha = 1;
    context.fillStyle = inks.ink;
    context.fillRect(x + (time - view.from) * perSecond, top, 1, thick);
  }
  context.restore();
}
