import type { DrumName, VoiceKind } from './practiceSounds';
import type { Style } from './practiceStyles';

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

/** Figures of broken chords that fill a bar of three quarters, in steps of the scale. */
const IN_THREE = [
  [0, 2, 4, 7, 4, 2],
  [0, 4, 7, 9, 7, 4],
  [0, 4, 2, 4, 2, 4],
  [0, 2, 4],
  [0, 4, 4],
];

/** What a layer plays: given positions in steps within a bar, at a time in bars. */
type Note = { step: number; steps: number; midi: number; gain: number };

/** What all parts of a piece have in common. */
export interface Setting {
  style: Style;
  mode: keyof typeof SCALES;
  /** Pitch class, C is 0. */
  tonic: number;
  /** Whether it is a recording of a performance and not a loop: then voices sing and guitars are driven. */
  performed: boolean;
  random: () => number;
}

interface Layer {
  voice: VoiceKind;
  /** The notes of a bar, counted within the progression. */
  notes: (bar: number) => Note[];
}

/** A pattern of one or two bars that is drawn once and repeated, and the harmony over it. */
export interface Part {
  drums: { drum: DrumName; hits: { step: number; gain: number }[][] }[];
  layers: Layer[];
  /** Bars after which the harmony repeats. */
  progressionBars: number;
}

/** Bars that are played one after the other: which part, which of its layers, and how they begin and end. */
export interface Section {
  from: number;
  to: number;
  part: number;
  drums: boolean;
  /** Which layers of the part play. */
  layers: boolean[];
  /** Whether its last bar ends with a fill, and its first begins with a crash. */
  fill: boolean;
  crash: boolean;
  gain: number;
}

/** Draws what a part plays: drums or none, and so many tonal layers, none, one, or a bass and others. */
export function drawPart(setting: Setting, withDrums: boolean, layers: number, bars: number): Part {
  const patternBars = bars === 1 ? 1 : setting.random() < 1 / 3 ? 1 : 2;
  const progressions = PROGRESSIONS[setting.mode];
  const progression = progressions[Math.floor(setting.random() * progressions.length)];
  return {
    drums: withDrums ? drawDrums(setting, patternBars) : [],
    layers: layers ? drawTonal(setting, layers, progression) : [],
    progressionBars: progression.length,
  };
}

/**
 * Draws the form of a long piece: sections of four or eight bars, seldom others, of its parts in turn. Layers
 * come and go from section to section; the first may be an introduction with few of them.
 */
export function drawForm(random: () => number, bars: number, parts: readonly Part[]): Section[] {
  const sections: Section[] = [];
  let part = 0;
  for (let from = 0; from < bars;) {
    const length = [4, 4, 4, 8, 8, 2, 3][Math.floor(random() * 7)];
    // What is too short to be a section of its own belongs to the last.
    const to = bars - from - length < 2 ? bars : from + length;
    const quiet = random() < (from === 0 ? 0.35 : 0.15);
    const layers = parts[part].layers.map(() => random() > (quiet ? 0.5 : 0.12));
    const tonal = layers.some(Boolean);
    if (!tonal && layers.length && (quiet || parts[part].drums.length === 0))
      layers[Math.floor(random() * layers.length)] = true;
    const drums = parts[part].drums.length > 0 && !(quiet && layers.some(Boolean) && random() < 0.6);
    sections.push({
      from,
      to,
      part,
      drums,
      layers,
      fill: random() < 0.6,
      crash: from > 0 && random() < 0.4,
      gain: quiet ? 0.6 + 0.3 * random() : 0.8 + 0.25 * random(),
    });
    if (random() < 0.6) part = (part + 1) % parts.length;
    from = to;
  }
  return sections;
}

function drawDrums({ style, random }: Setting, patternBars: number): Part['drums'] {
  const between = (a: number, b: number) => a + (b - a) * random();
  const { steps } = style;
  const chosen: Part['drums'] = [];
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

function drawTonal(
  { style, mode, tonic, performed, random }: Setting,
  count: number,
  progression: number[],
): Layer[] {
  const pick = <T>(options: readonly T[]) => options[Math.floor(random() * options.length)];
  const { beats, steps } = style;
  const barSteps = beats * steps;
  const degreesPerBar = random() < 0.25 && beats % 2 === 0 && beats > 2 ? 2 : 1;
  const scale = SCALES[mode];
  const note = (degree: number, base: number) =>
    base + tonic + scale[((degree % 7) + 7) % 7] + 12 * Math.floor(degree / 7);
  const rootAt = (bar: number, step: number) =>
    degreesPerBar === 2 && step >= barSteps / 2
      ? progression[(bar + 1) % progression.length]
      : progression[bar % progression.length];
  const makers: Layer[] = [];
  const roles = ['chords', 'bass', 'arpeggio', 'strum', 'melody', 'pad', 'stabs', 'boom'] as const;
  // Chords between the beats lean on something that plays on them.
  const beside = [...roles, 'off'] as const;
  const wanted =
    count > 1 ? (['bass', ...Array.from({ length: count - 1 }, () => pick(beside))] as const) : [pick(roles)];
  const compound = steps === 3;
  for (const role of wanted) {
    const low = 36 - (tonic > 6 ? 12 : 0);
    const middle = 60 - (tonic > 6 ? 12 : 0);
    const triad = (degree: number) =>
      [0, 2, 4, ...(random() < 0.3 ? [6] : [])].map((third) => note(degree + third, middle));
    if (role === 'bass') {
      const pulse = pick(compound ? [3, 1, 3] : steps === 4 ? [4, 2, 2, 8] : [steps, Math.max(1, steps / 2)]);
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
      const inThree = beats === 3;
      const pulse = compound ? 1 : pick(steps === 4 ? [1, 2, 2] : inThree ? [1, 1, steps] : [1]);
      // Of three quarters a figure fills the bar: six eighths up and down, or three quarters.
      const order = pick(
        inThree && random() < 0.6
          ? IN_THREE
          : [
              [0, 2, 4, 7],
              [0, 4, 2, 4],
              [0, 4, 7, 4],
              [7, 4, 2, 0],
              [0, 2, 4, 2],
              // Three notes in turn over four: only where the chord changes tells the beat.
              [0, 2, 4],
              [4, 2, 0],
            ],
      );
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
      const played = ['lead', 'brass', 'mallet', 'keys', 'pluck'] as const;
      const voice = pick(performed ? (['sung', 'sung', ...played] as const) : played);
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
      // Chords in a rhythm of their own, on every beat, or between the beats.
      const even = role === 'chords' && random() < 0.3;
      const rhythm = Array.from({ length: barSteps }, (_, step) => {
        if (even) return step % steps === 0;
        if (role === 'off') return step % steps === (compound ? 2 : steps / 2);
        if (step === 0) return random() < 0.9;
        if (role === 'strum')
          return compound ? random() < 0.7 : step % Math.max(1, steps / 2) === 0 && random() < 0.75;
        if (role === 'stabs') return random() < (step % steps === 0 ? 0.3 : 0.22);
        return step % steps === 0 && random() < 0.55;
      });
      // Root, fifth and octave.
      const driven = role === 'strum' && performed && random() < 0.25;
      const chord = (degree: number) =>
        driven ? [0, 4, 7].map((third) => note(degree + third, low + 12)) : triad(degree);
      const voice =
        role === 'strum'
          ? driven
            ? 'driven'
            : 'pluck'
          : role === 'stabs' || role === 'off'
            ? pick(['brass', 'keys', 'keys', 'pluck'] as const)
            : pick(['keys', 'keys', 'pluck'] as const);
      makers.push({
        voice,
        notes: (bar) => {
          const out: Note[] = [];
          rhythm.forEach((plays, step) => {
            if (!plays) return;
            let length = 1;
            while (step + length < barSteps && !rhythm[step + length]) length++;
            const held = role === 'stabs' || role === 'off' ? Math.min(length, steps * 0.6) : length;
            for (const midi of chord(rootAt(bar, step)))
              out.push({ step, steps: held, midi, gain: step === 0 ? 0.32 : 0.25 });
          });
          return out;
        },
      });
    }
  }
  if (!style.swung) return makers;
  return makers.map(({ voice, notes }) => ({
    voice,
    notes: (bar) => notes(bar).filter(({ step }) => step % steps !== 1),
  }));
}
