import { randomFrom } from '../../src/demo/random';
import { makeCanvas, makeKit, makeVoice, treat, type DrumName, type VoiceKind } from './practiceSounds';
import { DRAWN_STYLES } from './practiceStyles';
import type { Truth } from './truth';

const SCALES = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] };
const PROGRESSIONS = {
  major: [
    [0, 3, 4, 0],
    [0, 5, 3, 4],
    [0, 4, 5, 3],
    [1, 4, 0, 0],
    [0, 0, 3, 4],
    [0, 3, 0, 4],
    [0, 2, 3, 4],
  ],
  minor: [
    [0, 5, 2, 6],
    [0, 3, 4, 0],
    [0, 6, 5, 4],
    [0, 0, 3, 4],
    [0, 5, 6, 0],
    [0, 2, 5, 6],
    [0, 3, 6, 2],
  ],
};
const NAMES = ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];

/** What a layer plays: given positions in steps within a bar, at a time in bars. */
type Note = { step: number; steps: number; midi: number; gain: number };

/** A recording that the training script makes itself, with its truth. */
export interface PracticePiece {
  truth: Truth;
  rate: number;
  samples: Float32Array;
}

/**
 * Makes a practice piece from a seed: a style, a tempo, layers of drums and tonal voices, a form, and a cut
 * (exact, rough, with pickup, with tail, or a long recording). The world of the training script only.
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
    ? Math.max(6, Math.round(between(16, 34) / ((60 / bpm) * beats)))
    : pick([1, 2, 2, 4, 4, 4, 8, 8]);
  const variant = long
    ? pick(['start', 'lead'])
    : pick(['exact', 'exact', 'rough', 'rough', 'pickup', 'tail']);
  const moving = long && random() < 0.2;
  const jitter = random() < 0.6 ? between(0, 0.01) : 0;
  const swing = steps === 4 && random() < (style.swing ?? 0) ? between(0.53, 0.66) : 0.5;

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
    if (swing !== 0.5 && Math.floor(step) % 2 === 1) position += (swing - 0.5) / 2;
    const i = Math.max(0, Math.min(beatTimes.length - 2, Math.floor(position)));
    return beatTimes[i] + (position - i) * (beatTimes[i + 1] - beatTimes[i]) - zero;
  };

  // What every bar plays. A pattern of one or two bars is drawn once and repeated with small changes.
  const patternBars = bars === 1 ? 1 : pick([1, 2, 2]);
  const drums = tonalOnly ? [] : drawDrums();
  const mode = pick(['major', 'minor'] as const);
  const tonic = Math.floor(random() * 12);
  const degreesPerBar = random() < 0.25 && beats % 2 === 0 && beats > 2 ? 2 : 1;
  const progression = pick(PROGRESSIONS[mode]);
  const layers = tonalOnly ? drawTonal(1) : full ? drawTonal(1 + Math.floor(random() * 3)) : [];
  const tuning = 440 * 2 ** (random() < 0.7 ? 0 : between(-30, 30) / 1200);

  const loopSeconds = timeAt(bars, 0);
  const ring = between(0.8, 2.6);
  const pre =
    variant === 'rough'
      ? between(0.005, 0.4)
      : variant === 'pickup'
        ? (60 / bpm) * pick([0.5, 1, 1, 1.5]) * (style.unit === 8 && beats === 7 ? 2 : 1)
        : variant === 'lead'
          ? between(0.1, 0.6)
          : 0;
  const preKind =
    variant === 'rough'
      ? pick(['silence', 'noise', 'material'])
      : variant === 'pickup'
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
  const warm = variant === 'exact' && random() < 0.6;
  const offset = Math.max(pre, warm ? loopSeconds : 0, 1.2 * (60 / bpm) * beats);
  const rate = 22050;
  const canvas = makeCanvas(offset + loopSeconds + Math.max(post, 0.1) + 0.2, rate, seed);
  const kit = makeKit(random);
  const voices = layers.map(({ voice }) => makeVoice(voice, tuning, random));
  const wobble = () => jitter * (random() + random() + random() - 1.5);

  const from = preKind === 'material' || preKind === 'pickup' ? -1 : 0;
  const to = postKind === 'material' ? bars + 1 : bars;
  const entries = long
    ? layers.map(() => (random() < 0.4 ? Math.floor((bars / 4) * Math.floor(random() * 2)) : 0))
    : [];
  const drumEntry = long && layers.length && random() < 0.3 ? Math.floor(bars / 4) : 0;
  const playBar = (bar: number, shift: number, pattern: number) => {
    if (bar >= drumEntry || bar < 0) {
      const fill = bar >= 0 && bars >= 4 && bar % 4 === 3 && random() < 0.4;
      for (const { drum, hits } of drums) {
        for (const { step, gain } of hits[pattern % hits.length]) {
          if (preKind === 'pickup' && bar < 0 && random() < 0.3) continue;
          if (random() < 0.02) continue;
          if (fill && step > barSteps * 0.75 && (drum === 'hat' || drum === 'snare')) continue;
          kit[drum](canvas, shift + timeAt(bar, step) + wobble(), gain * between(0.85, 1.1));
        }
      }
      if (fill && drums.length)
        for (let step = Math.ceil(barSteps * 0.75); step < barSteps; step++)
          if (random() < 0.8)
            kit[pick(['snare', 'low', 'high'] as const)](
              canvas,
              shift + timeAt(bar, step) + wobble(),
              between(0.4, 0.8),
            );
    }
    layers.forEach((layer, l) => {
      if (bar >= 0 && bar < (entries[l] ?? 0)) return;
      const notes = layer.notes(((pattern % progression.length) + progression.length) % progression.length);
      for (const { step, steps: length, midi, gain } of notes) {
        const start = timeAt(bar, step);
        voices[l].play(
          canvas,
          shift + start + wobble(),
          midi,
          Math.max(0.04, timeAt(bar, step + length) - start - 0.01),
          gain * between(0.85, 1.1),
        );
      }
    });
  };
  for (let bar = from; bar < to; bar++) {
    // What precedes and follows a loop is what a player repeats.
    const pattern = ((bar % bars) + bars) % bars;
    playBar(bar, offset, pattern);
  }
  if (warm) for (let bar = Math.max(0, bars - 4); bar < bars; bar++) playBar(bar, offset - loopSeconds, bar);
  treat(canvas, random);

  // The cut.
  const first = Math.round((offset - pre) * rate);
  const last = Math.round((offset + loopSeconds + post) * rate);
  const samples = canvas.samples.slice(first, last);
  const edge = Math.round(pre * rate);
  if (preKind === 'silence' || preKind === 'noise') for (let i = 0; i < edge; i++) samples[i] = 0;
  if (variant === 'pickup') for (let i = 0; i < Math.min(200, edge); i++) samples[i] *= i / 200;
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
  const quarter = beats === 7 ? bpm / 2 : bpm;
  const truth: Truth = {
    id: `P${seed}`,
    file: `practice ${seed}: ${style.name}`,
    kind: long ? 'practice song' : 'practice loop',
    variant,
    bpm: moving ? (60 * (beatsOut.length - 1)) / (beatsOut[beatsOut.length - 1] - beatsOut[0]) : quarter,
    bpmAlt: beats === 7 ? [bpm] : beats === 2 ? [bpm * 1.5] : null,
    tempoConstant: !moving,
    beats: beatsOut,
    downbeats,
    beatsPerBar: beats === 2 ? 6 : beats,
    beatUnit: style.unit,
    bars,
    loopStart: long ? null : pre,
    loopEnd: long ? null : pre + loopSeconds,
    key: layers.length ? { tonic: NAMES[tonic], mode } : null,
  };
  return { truth, rate, samples };

  function drawDrums() {
    const chosen: { drum: DrumName; hits: { step: number; gain: number }[][] }[] = [];
    const sparse = random() < 0.15;
    for (const [drum, likelihoods] of Object.entries(style.drums) as [DrumName, string[]][]) {
      const optional = !['kick', 'snare'].includes(drum);
      if (optional && random() < (sparse ? 0.8 : 0.35)) continue;
      if (drum === 'kick' && random() < 0.06) continue;
      const hits = Array.from({ length: patternBars }, (_, b) => {
        const line = likelihoods[b % likelihoods.length];
        const out: { step: number; gain: number }[] = [];
        for (let step = 0; step < line.length; step++) {
          const likelihood = line[step] === '.' ? 0 : Number(line[step]) / 9;
          if (random() < likelihood) {
            const accent = step % steps === 0 ? 1 : between(0.5, 1);
            const ghost = drum === 'snare' && likelihood < 0.5 ? 0.3 : 1;
            out.push({ step, gain: accent * ghost * (optional ? between(0.25, 0.6) : 1) });
          }
        }
        return out;
      });
      chosen.push({ drum, hits });
    }
    return chosen;
  }

  function drawTonal(count: number) {
    const scale = SCALES[mode];
    const note = (degree: number, base: number) =>
      base + tonic + scale[((degree % 7) + 7) % 7] + 12 * Math.floor(degree / 7);
    const rootAt = (bar: number, step: number) =>
      degreesPerBar === 2 && step >= barSteps / 2
        ? progression[(bar + 1) % progression.length]
        : progression[bar % progression.length];
    const makers: { voice: VoiceKind; notes: (bar: number) => Note[] }[] = [];
    const roles = ['chords', 'bass', 'arpeggio', 'strum', 'melody', 'pad', 'stabs', 'boom'] as const;
    const wanted =
      count > 1
        ? (['bass', ...Array.from({ length: count - 1 }, () => pick(roles))] as const)
        : [pick(roles)];
    const compound = steps === 3;
    for (const role of wanted) {
      const low = 36 - (tonic > 6 ? 12 : 0);
      const middle = 60 - (tonic > 6 ? 12 : 0);
      const triad = (degree: number) =>
        [0, 2, 4, ...(random() < 0.3 ? [6] : [])].map((third) => note(degree + third, middle));
      if (role === 'bass') {
        const pulse = pick(
          compound ? [3, 1, 3] : steps === 4 ? [4, 2, 2, 8] : [steps, Math.max(1, steps / 2)],
        );
        const walking = random() < 0.3;
        const gaps = Array.from({ length: barSteps }, (_, step) => step > 0 && random() < 0.2);
        makers.push({
          voice: 'bass',
          notes: (bar) => {
            const out: Note[] = [];
            for (let step = 0; step < barSteps; step += pulse) {
              if (gaps[step]) continue;
              const degree = rootAt(bar, step);
              const move = step === 0 ? 0 : walking ? Math.round(step / pulse) : pick([0, 0, 0, 4, 7]);
              out.push({ step, steps: pulse, midi: note(degree + move, low), gain: step === 0 ? 0.8 : 0.6 });
            }
            return out;
          },
        });
      } else if (role === 'pad') {
        makers.push({
          voice: 'pad',
          notes: (bar) => {
            const half = degreesPerBar === 2 ? barSteps / 2 : barSteps;
            const out: Note[] = [];
            for (let step = 0; step < barSteps; step += half)
              for (const midi of triad(rootAt(bar, step))) out.push({ step, steps: half, midi, gain: 0.22 });
            return out;
          },
        });
      } else if (role === 'arpeggio') {
        const pulse = compound ? 1 : pick(steps === 4 ? [1, 2, 2] : [1]);
        const order = pick([
          [0, 2, 4, 7],
          [0, 4, 2, 4],
          [0, 4, 7, 4],
          [7, 4, 2, 0],
          [0, 2, 4, 2],
        ]);
        const voice = pick(['pluck', 'keys', 'mallet', 'lead'] as const);
        makers.push({
          voice,
          notes: (bar) => {
            const out: Note[] = [];
            for (let step = 0, i = 0; step < barSteps; step += pulse, i++) {
              const inBeat = compound ? i % 3 : i % order.length;
              out.push({
                step,
                steps: pulse * 1.5,
                midi: note(rootAt(bar, step) + order[inBeat % order.length], middle),
                gain: step % steps === 0 ? 0.55 : 0.4,
              });
            }
            return out;
          },
        });
      } else if (role === 'boom') {
        makers.push({
          voice: pick(['keys', 'pluck'] as const),
          notes: (bar) => {
            const out: Note[] = [];
            for (let beat = 0; beat < beats; beat++) {
              const step = beat * steps;
              const bassBeat = beats === 3 ? beat === 0 : beats === 2 ? true : beat % 2 === 0;
              if (bassBeat)
                out.push({
                  step,
                  steps,
                  midi: note(rootAt(bar, step) + (beat === 0 || beats === 2 ? 0 : 4), low + 12),
                  gain: 0.6,
                });
              else
                for (const midi of triad(rootAt(bar, step)))
                  out.push({ step, steps: steps * 0.7, midi, gain: 0.25 });
              if (beats === 2)
                for (const midi of triad(rootAt(bar, step)))
                  out.push({ step: step + 2, steps: 1, midi, gain: 0.25 });
            }
            return out;
          },
        });
      } else if (role === 'melody') {
        const voice = pick(['lead', 'brass', 'mallet', 'keys', 'pluck'] as const);
        const bank = Array.from({ length: progression.length }, () => {
          const out: Note[] = [];
          let degree = 7;
          for (let step = 0; step < barSteps;) {
            const length = Math.min(
              barSteps - step,
              pick(compound ? [1, 1, 2, 3] : steps === 4 ? [2, 2, 4, 4, 6, 1] : [1, 1, 2]),
            );
            degree += pick([-2, -1, -1, 0, 1, 1, 2]);
            degree = Math.max(2, Math.min(13, degree));
            if (random() < 0.85)
              out.push({
                step,
                steps: length,
                midi: note(degree, middle),
                gain: step % steps === 0 ? 0.55 : 0.42,
              });
            step += length;
          }
          return out;
        });
        makers.push({ voice, notes: (bar) => bank[bar % bank.length] });
      } else {
        // Chords in a rhythm of their own.
        const rhythm = Array.from({ length: barSteps }, (_, step) => {
          if (step === 0) return random() < 0.9;
          if (role === 'strum')
            return compound ? random() < 0.7 : step % Math.max(1, steps / 2) === 0 && random() < 0.75;
          if (role === 'stabs') return random() < (step % steps === 0 ? 0.3 : 0.22);
          return step % steps === 0 && random() < 0.55;
        });
        const voice =
          role === 'strum'
            ? 'pluck'
            : role === 'stabs'
              ? pick(['brass', 'keys'] as const)
              : pick(['keys', 'keys', 'pluck'] as const);
        makers.push({
          voice,
          notes: (bar) => {
            const out: Note[] = [];
            rhythm.forEach((plays, step) => {
              if (!plays) return;
              let length = 1;
              while (step + length < barSteps && !rhythm[step + length]) length++;
              const held = role === 'stabs' ? Math.min(length, steps * 0.6) : length;
              for (const midi of triad(rootAt(bar, step)))
                out.push({ step, steps: held, midi, gain: step === 0 ? 0.32 : 0.25 });
            });
            return out;
          },
        });
      }
    }
    return makers;
  }
}
