import { beatTime, feltBeatsPerBar, type Grid } from '../rhythm/grid';
import { tempoChangeText } from '../timeStretch/tempoChange';
import type { Recipe } from './recipe';

const number = (value: number, decimals = 3) => String(Math.round(value * 10 ** decimals) / 10 ** decimals);

/** A stretch of beats as bars: "bars 5 to 8", "bar 3", "bar 2, beat 3 to bar 4, beat 1". */
export function stretchWords(grid: Grid, from: number, to: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const isLine = (beat: number) => Math.abs(beat / size - Math.round(beat / size)) < 1e-6;
  const bar = (beat: number) => Math.floor(beat / size + 1e-6) + 1;
  if (isLine(from) && isLine(to)) {
    const [first, last] = [Math.round(from / size) + 1, Math.round(to / size)];
    return first === last ? `bar ${first}` : `bars ${first} to ${last}`;
  }
  const place = (beat: number) => `bar ${bar(beat)}, beat ${number(beat - (bar(beat) - 1) * size + 1, 2)}`;
  return `${place(from)} to ${place(to)}`;
}

/** A recipe in words: what becomes of its parent, step by step. */
export function recipeWords(recipe: Recipe): string {
  const { parent, region, time, hits, pitch, times, keepAround, countInBars, write } = recipe;
  const parts: string[] = [];
  if (region && parent.grid) {
    const {
      from,
      to,
      pickupBeats,
      shiftSeconds,
      crossfadeMs,
      shape,
      tail,
      tailSeconds,
      fadeInMs,
      fadeOutMs,
    } = region;
    parts.push(stretchWords(parent.grid, from, to));
    if (pickupBeats > 0) parts.push(`${number(pickupBeats, 2)} beats of pickup kept`);
    if (Math.abs(shiftSeconds) > 1e-6)
      parts.push(`both ends ${shiftSeconds > 0 ? '+' : '−'}${number(Math.abs(1000 * shiftSeconds), 2)} ms`);
    if (crossfadeMs > 0) parts.push(`${number(crossfadeMs, 1)} ms crossfade, ${shape}`);
    if (tail !== 'cut')
      parts.push(
        `${number(tailSeconds, 2)} s of tail ${tail === 'rings on' ? 'rings out' : 'overlaps the start'}`,
      );
    if (fadeInMs > 0) parts.push(`faded in over ${number(fadeInMs, 1)} ms`);
    if (fadeOutMs > 0) parts.push(`faded out over ${number(fadeOutMs, 1)} ms`);
    const missing = beatTime(parent.grid, to) + shiftSeconds - parent.durationSeconds;
    if (missing > 5e-4) parts.push(`${number(1000 * missing, 0)} ms of silence at the end`);
  } else parts.push('whole file');
  if (time.tempoBpm !== null && parent.grid) {
    parts.push(tempoChangeText(parent.grid.tempoBpm, time.tempoBpm, time.level));
  }
  if (time.even !== 'no') parts.push(`steady tempo, ${time.even} by ${time.even}`);
  if (time.exactBeats !== null) parts.push(`exactly ${number(time.exactBeats, 2)} beats`);
  if (pitch.tape) parts.push('pitch follows speed');
  else {
    if (pitch.semitones !== 0)
      parts.push(`${pitch.semitones > 0 ? '+' : '−'}${number(Math.abs(pitch.semitones), 2)} semitones`);
    if (pitch.cents !== 0)
      parts.push(`${pitch.cents > 0 ? '+' : '−'}${number(Math.abs(pitch.cents), 1)} cents`);
    if (pitch.holdFormants) parts.push('formants kept');
  }
  if (hits.pull > 0)
    parts.push(
      `quantized ${Math.round(100 * hits.pull)} %${hits.swing === null ? '' : `, swing ${number(hits.swing, 2)}`}`,
    );
  if (hits.feel && hits.feelShare > 0)
    parts.push(`${Math.round(100 * hits.feelShare)} % of the groove of “${hits.feel.of}”`);
  if (hits.moves.length > 0)
    parts.push(`${hits.moves.length} ${hits.moves.length === 1 ? 'hit' : 'hits'} moved by hand`);
  if (times > 1) parts.push(`${times} times`);
  if (keepAround) parts.push('intro and ending kept');
  if (countInBars > 0)
    parts.push(
      `${countInBars} ${countInBars === 1 ? 'bar' : 'bars'} of count-in with ${recipe.countInWith === 'click' ? 'click' : 'its first hit'}`,
    );
  if (recipe.clickOnly) parts.push('click only');
  if (write.gainDb !== 0)
    parts.push(`${write.gainDb > 0 ? '+' : '−'}${number(Math.abs(write.gainDb), 1)} dB`);
  const rate = write.sampleRate === null ? '' : ` at ${number(write.sampleRate / 1000, 2)} kHz`;
  parts.push(
    write.format === 'midi'
      ? 'as MIDI notes'
      : `${write.format.replace('wav', 'WAV').replace('flac', 'FLAC')}${rate}`,
  );
  return parts.join(', ');
}
