import { randomFrom } from '@/demo/random';
import { drawForm, drawPart, type Setting } from './practiceParts';
import { makeCanvas, makeKit, makeVoice, treat } from './practiceSounds';
import { DRAWN_STYLES, meterTruth } from './practiceStyles';
import { NAMES, type Truth } from './truth';

/** Longer loops are hardly ever kept as one file. */
const LONGEST_LOOP_SECONDS = 36;

/** A recording that the training script makes itself, with its truth. */
export interface PracticePiece {
  truth: Truth;
  rate: number;
  samples: Float32Array;
}

/**
 * Makes a practice piece from a seed: a style, a tempo, layers of drums and tonal voices, and a cut (exact,
 * rough, with pickup, with tail), or a long recording in several sections, also one that begins with an
 * upbeat. The world of the training script only.
 */
export function practicePiece(seed: number): PracticePiece {
  const random = randomFrom(seed * 7919 + 13);
  const between = (a: number, b: number) => a + (b - a) * random();
  const pick = <T>(options: readonly T[]) => options[Math.floor(random() * options.length)];
  const style = pick(DRAWN_STYLES);
  const { beats, steps } = style;
  const barSteps = beats * steps;
  let bpm = between(...style.tempo);
  bpm = random() < 0.55 ? Math.round(bpm) : Math.round(bpm * 100) / 100;
  const layout = random();
  const tonalOnly = layout < (style.tonal ?? 0.28);
  const full = !tonalOnly && layout < (style.tonal ?? 0.28) + 0.38;
  // Loops of tones alone are hardly ever in thirds of a beat; tunes are.
  const long = random() < (tonalOnly && steps === 3 ? 0.85 : 0.3);
  const bars = long
    ? Math.max(6, Math.round(between(16, 48) / ((60 / bpm) * beats)))
    : pick(
        (60 / bpm) * beats * 16 < LONGEST_LOOP_SECONDS
          ? [1, 2, 2, 4, 4, 4, 8, 8, 16]
          : [1, 2, 2, 4, 4, 4, 8, 8],
      );
  // A stem is silent until its part comes in; the silence keeps it together with the others.
  const silentBars = !long && bars >= 4 && random() < 0.15 ? 1 + Math.floor((random() * bars) / 2) : 0;
  const variant = long
    ? pick(['start', 'start', 'lead', 'upbeat'])
    : silentBars
      ? pick(['exact', 'tail'])
      : pick(['exact', 'exact', 'rough', 'rough', 'pickup', 'tail']);
  const moving = long && random() < 0.2;
  // Loops are mostly programmed; who plays a whole piece is looser.
  const jitter = random() < 0.6 ? between(0, long && random() < 0.3 ? 0.02 : 0.01) : 0;
  const swing = steps !== 3 && random() < (style.swing ?? 0) ? between(0.53, 0.66) : 0.5;

  // Times: bar and step to seconds, before the cut.
  const beatTimes: number[] = [];
  const leadBars = 1;
  let tempo = bpm;
  let clock = 0;
  for (let k = -leadBars * beats; k <= (bars + 1) * beats; k++) {
    if (k <= 0 && !moving) clock = (k * 60) / bpm;
    beatTimes.push(clock);
    if (moving) tempo = Math.min(bpm * 1.05, Math.max(bpm / 1.05, tempo * (1 + 0.012 * (random() - 0.5))));
    clock += 60 / tempo;
  }
  const zero = beatTimes[leadBars * beats];
  const timeAt = (bar: number, step: number) => {
    let position = (bar + leadBars) * beats + step / steps;
    if (swing !== 0.5 && Math.floor(step) % 2 === 1) position += ((swing - 0.5) * 2) / steps;
    const i = Math.max(0, Math.min(beatTimes.length - 2, Math.floor(position)));
    return beatTimes[i] + (position - i) * (beatTimes[i + 1] - beatTimes[i]) - zero;
  };

  // What every bar plays: a part, or in long pieces two that take turns.
  const mode = pick(['major', 'minor'] as const);
  const tonic = Math.floor(random() * 12);
  const setting: Setting = { style, mode, tonic, performed: long, random };
  const several = () => 1 + Math.floor(random() * 3);
  const parts = Array.from({ length: long && random() < 0.7 ? 2 : 1 }, () =>
    drawPart(setting, !tonalOnly, tonalOnly && !long ? 1 : tonalOnly || full ? several() : 0, bars),
  );
  const sections = long ? drawForm(random, bars, parts) : [];
  const tuning = 440 * 2 ** (random() < 0.7 ? 0 : between(-30, 30) / 1200);

  const loopSeconds = timeAt(bars, 0);
  const ring = between(0.8, 2.6);
  const pre =
    variant === 'rough'
      ? between(0.005, 0.4)
      : variant === 'pickup' || variant === 'upbeat'
        ? (60 / bpm) * pick([0.5, 1, 1, 1.5]) * (style.unit === 8 && beats === 7 ? 2 : 1)
        : variant === 'lead'
          ? between(0.1, 0.6)
          : 0;
  const preKind =
    variant === 'rough'
      ? pick(['silence', 'noise', 'material'])
      : variant === 'pickup' || variant === 'upbeat'
        ? 'pickup'
        : 'silence';
  const post =
    variant === 'rough'
      ? between(0.05, 1.4)
      : variant === 'tail'
        ? ring
        : long
          ? between(0.8, 2.2)
          : variant === 'pickup' && random() < 0.4
            ? between(0.1, 0.8)
            : 0;
  const postKind =
    variant === 'rough' || variant === 'pickup' ? pick(['silence', 'decay', 'material']) : 'decay';
  const warm = variant === 'exact' && !silentBars && random() < 0.6;
  const offset = Math.max(pre, warm ? loopSeconds : 0, 1.2 * (60 / bpm) * beats);
  const rate = 22050;
  const canvas = makeCanvas(offset + loopSeconds + Math.max(post, 0.1) + 0.2, rate, seed);
  const kit = makeKit(random);
  const voices = parts.map(({ layers }) => layers.map(({ voice }) => makeVoice(voice, tuning, random)));
  const wobble = () => jitter * (random() + random() + random() - 1.5);

  const from = preKind === 'material' || preKind === 'pickup' ? -1 : 0;
  const to = postKind === 'material' ? bars + 1 : bars;
  const playBar = (bar: number, shift: number, pattern: number) => {
    if (silentBars > 0 && bar < silentBars) return;
    const section = sections.find(({ to }) => bar < to) ?? sections[sections.length - 1];
    const { drums, layers, progressionBars } = parts[section?.part ?? 0];
    const gain = section?.gain ?? 1;
    if (section?.drums ?? true) {
      const fill =
        bar >= 0 &&
        drums.length > 0 &&
        (section ? section.fill && bar === section.to - 1 : bars >= 4 && bar % 4 === 3 && random() < 0.4);
      for (const { drum, hits } of drums) {
        for (const { step, gain: accent } of hits[pattern % hits.length]) {
          if (preKind === 'pickup' && bar < 0 && random() < 0.3) continue;
          if (random() < 0.02) continue;
          if (fill && step > barSteps * 0.75 && (drum === 'hat' || drum === 'snare')) continue;
          kit[drum](canvas, shift + timeAt(bar, step) + wobble(), gain * accent * between(0.85, 1.1));
        }
      }
      if (section?.crash && bar === section.from)
        kit.crash(canvas, shift + timeAt(bar, 0) + wobble(), gain * between(0.3, 0.7));
      if (fill)
        for (let step = Math.ceil(barSteps * 0.75); step < barSteps; step++)
          if (random() < 0.8)
            kit[pick(['snare', 'low', 'high'] as const)](
              canvas,
              shift + timeAt(bar, step) + wobble(),
              gain * between(0.4, 0.8),
            );
    }
    layers.forEach((layer, l) => {
      if (section && !section.layers[l]) return;
      for (const { step, steps: length, midi, gain: accent } of layer.notes(mod(pattern, progressionBars))) {
        const start = timeAt(bar, step);
        voices[section?.part ?? 0][l].play(
          canvas,
          shift + start + wobble(),
          midi,
          Math.max(0.04, timeAt(bar, step + length) - start - 0.01),
          gain * accent * between(0.85, 1.1),
        );
      }
    });
  };
  for (let bar = from; bar < to; bar++) {
    // What precedes and follows a loop is what a player repeats.
    playBar(bar, offset, mod(bar, bars));
  }
  if (warm) for (let bar = Math.max(0, bars - 4); bar < bars; bar++) playBar(bar, offset - loopSeconds, bar);
  treat(canvas, random);

  // The cut.
  const first = Math.round((offset - pre) * rate);
  const last = Math.round((offset + loopSeconds + post) * rate);
  const samples = canvas.samples.slice(first, last);
  const edge = Math.round(pre * rate);
  if (preKind === 'silence' || preKind === 'noise') for (let i = 0; i < edge; i++) samples[i] = 0;
  if (preKind === 'pickup') for (let i = 0; i < Math.min(200, edge); i++) samples[i] *= i / 200;
  const after = Math.round((pre + loopSeconds) * rate);
  if (postKind === 'silence') for (let i = after; i < samples.length; i++) samples[i] = 0;
  const hiss = preKind === 'noise' || random() < 0.2 ? 10 ** between(-4, -2.6) : 1e-5;
  for (let i = 0; i < samples.length; i++) samples[i] += hiss * (canvas.random() - 0.5);

  const beatsOut: number[] = [];
  const downbeats: number[] = [];
  for (let bar = 0; bar < bars; bar++)
    for (let beat = 0; beat < beats; beat++) {
      const index = (bar + leadBars) * beats + beat;
      beatsOut.push(pre + beatTimes[index] - zero);
      if (beat === 0) downbeats.push(beatsOut[beatsOut.length - 1]);
    }
  const truth: Truth = {
    id: `P${seed}`,
    file: `practice ${seed}: ${style.name}`,
    kind: long ? 'practice song' : 'practice loop',
    variant,
    ...meterTruth(style, bpm),
    ...(moving && { bpm: (60 * (beatsOut.length - 1)) / (beatsOut[beatsOut.length - 1] - beatsOut[0]) }),
    tempoConstant: !moving,
    beats: beatsOut,
    downbeats,
    bars,
    loopStart: long ? null : pre,
    loopEnd: long ? null : pre + loopSeconds,
    key: parts.some(({ layers }) => layers.length) ? { tonic: NAMES[tonic], mode } : null,
  };
  return { truth, rate, samples };
}

const mod = (n: number, m: number) => ((n % m) + m) % m;
