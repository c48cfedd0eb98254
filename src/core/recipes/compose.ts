import { clickSound } from '../playing/clickSound';
import { eachClick } from '../playing/click';
import type { Recipe } from './recipe';
import type { Grid } from '../rhythm/grid';
import { firstBeat, type RenderPlan } from './renderPlan';
import { loudestOf, quieterBy } from './level';
import { RecipeError } from './recipeError';

/** What was made, at the rate of the parent. */
export interface Made {
  channels: Float32Array[];
  rate: number;
  /** How much quieter it was made so that it does not clip, dB (0: not at all). */
  quieterDb: number;
  /** The loudest sample, of full scale, as it is written. */
  peak: number;
}

const CLICK_LEVEL = 0.5;

/** What a plan reads of its parent's channels; behind their end there is silence. */
export function readOf(parent: readonly Float32Array[], { first, size }: RenderPlan): Float32Array[] {
  return parent.map((channel) => {
    if (first + size <= channel.length) return channel.subarray(first, first + size);
    const padded = new Float32Array(size);
    padded.set(channel.subarray(first));
    return padded;
  });
}

/**
 * Puts a result together from what its plan reads, fitted to its tempo and pitch: edges, tail, crossfade, repeats, count-in, level. Exactly
 * `making.length` long. Throws RecipeError where it would be too loud and is not to be made quieter.
 */
export function composed(fitted: readonly Float32Array[], plan: RenderPlan, recipe: Recipe): Made {
  const { rate, before, body, after, lead, countIn, length } = plan;
  const { region, times } = recipe;
  const out = fitted.map((channel) => {
    const stretch = channel.slice(before, before + body);
    const ahead = channel.subarray(0, before);
    const behind = channel.subarray(before + body);
    if (region && region.crossfadeMs > 0)
      fadeOver(stretch, ahead, frames(region.crossfadeMs, rate), region.shape);
    if (region?.tail === 'over the beginning') arrangeOver(stretch, behind, frames(TAIL_FADE_MS, rate));
    const whole = new Float32Array(length);
    whole.set(ahead.subarray(before - lead), countIn);
    for (let time = 0; time < times; time++) whole.set(stretch, countIn + lead + time * body);
    const end = countIn + lead + times * body;
    if (length > end) {
      whole.set(behind.subarray(0, Math.min(after, length - end)), end);
      if (region?.tail === 'rings on') fadeOut(whole, frames(TAIL_FADE_MS, rate));
    }
    if (region && region.fadeInMs > 0)
      fadeIn(whole.subarray(countIn), frames(region.fadeInMs, rate), region.shape);
    if (region && region.fadeOutMs > 0) fadeOut(whole, frames(region.fadeOutMs, rate), region.shape);
    return whole;
  });
  if (recipe.clickOnly) {
    if (!plan.grid) throw new RecipeError('Without a tempo there is no click.');
    for (const channel of out) channel.fill(0);
    clicked(out, plan.grid, 0, length, rate);
  } else if (countIn > 0 && plan.grid) {
    // Bars before the one go at the tempo that the piece begins with.
    const counted = { ...plan.grid, tempoBpm: 60 / firstBeat(plan.grid), movingBeats: null };
    if (recipe.countInWith === 'click') clicked(out, counted, 0, plan.clicksTo * rate, rate);
    else struckIn(out, counted, plan);
  }
  return levelled(out, rate, recipe);
}

/** What rings on is let go within this. */
const TAIL_FADE_MS = 30;

const frames = (ms: number, rate: number) => Math.round((ms / 1000) * rate);

const gainOf = (share: number, shape: 'linear' | 'equal power') =>
  shape === 'linear' ? share : Math.sin((Math.PI / 2) * share);

/** What stands before the beginning comes in over the end: after it the beginning follows as it always did. */
function fadeOver(
  stretch: Float32Array,
  ahead: Float32Array,
  count: number,
  shape: 'linear' | 'equal power',
) {
  const [end, begin] = [stretch.length - count, ahead.length - count];
  for (let n = 0; n < count; n++) {
    const share = (n + 0.5) / count;
    stretch[end + n] = gainOf(1 - share, shape) * stretch[end + n] + gainOf(share, shape) * ahead[begin + n];
  }
}

/** What rings after the end is laid over the beginning, where it is heard the next time around. */
function arrangeOver(stretch: Float32Array, behind: Float32Array, fade: number) {
  const tail = behind.slice();
  fadeOut(tail, Math.min(fade, tail.length));
  for (let n = 0; n < tail.length; n++) stretch[n % stretch.length] += tail[n];
}

function fadeIn(samples: Float32Array, count: number, shape: 'linear' | 'equal power') {
  const many = Math.min(count, samples.length);
  for (let n = 0; n < many; n++) samples[n] *= gainOf((n + 0.5) / many, shape);
}

function fadeOut(samples: Float32Array, count: number, shape: 'linear' | 'equal power' = 'linear') {
  const many = Math.min(count, samples.length);
  const from = samples.length - many;
  for (let n = 0; n < many; n++) samples[from + n] *= gainOf(1 - (n + 0.5) / many, shape);
}

/** Clicks on the beats of a grid between two frames, in all channels. */
function clicked(out: readonly Float32Array[], grid: Grid, from: number, to: number, rate: number) {
  const samples = { plain: clickSound('wood', false, rate), accented: clickSound('wood', true, rate) };
  eachClick(grid, from - 0.5, to - 0.5, rate, { pace: 1, subdivision: 1 }, (frame, kind) => {
    const at = Math.round(frame);
    const sound = kind === 'accented' ? samples.accented : samples.plain;
    for (const channel of out)
      for (let n = 0; n < sound.length && at + n < channel.length; n++)
        if (at + n >= 0) channel[at + n] += CLICK_LEVEL * sound[n];
  });
}

/** How much of a hit is heard on each beat of a count-in, seconds, and how it is let go. */
const HIT_SECONDS = 0.3;

/** The first hit of the piece on every beat of the bars in front. */
function struckIn(out: readonly Float32Array[], grid: Grid, { clicksTo, countIn, hits, rate }: RenderPlan) {
  const first = Math.round((hits.find((hit) => hit >= countIn / rate - 0.002) ?? countIn / rate) * rate);
  const length = Math.round(Math.min(HIT_SECONDS, 60 / grid.tempoBpm) * rate);
  const sounds = out.map((channel) => channel.slice(first, first + length));
  for (const sound of sounds) fadeOut(sound, sound.length >> 1);
  eachClick(grid, -0.5, clicksTo * rate - 0.5, rate, { pace: 1, subdivision: 1 }, (frame) => {
    const at = Math.round(frame);
    out.forEach((channel, c) => {
      for (let n = 0; n < sounds[c].length && at + n < channel.length; n++) channel[at + n] += sounds[c][n];
    });
  });
}

function levelled(channels: Float32Array[], rate: number, { write }: Recipe): Made {
  let gain = 10 ** ((write.gainDb - write.setDb) / 20);
  const loudest = loudestOf(channels);
  let quieterDb = write.setDb;
  // Floating point holds what is louder than full scale.
  if (write.format !== 'wav 32 float' && loudest * gain > 1) {
    const over = 20 * Math.log10(loudest * gain);
    if (write.tooLoud === 'refuse')
      throw new RecipeError(
        `It would be ${over.toFixed(1)} dB louder than full scale; make it quieter by as much.`,
      );
    const more = quieterBy(loudest * gain);
    quieterDb += more;
    gain /= 10 ** (more / 20);
  }
  if (gain !== 1) for (const channel of channels) for (let n = 0; n < channel.length; n++) channel[n] *= gain;
  return { channels, rate, quieterDb, peak: loudest * gain };
}
