import { pitchClassOf } from '@/core/harmony/keyNames';
import type { Answer } from './errorsLeft';
import type { Prediction } from './predictions';

/** What both truth files say of an item, as far as it is looked at here. */
export interface Truth {
  id: string;
  file: string;
  kind: string;
  source: string;
  variant?: string;
  bpm: number | null;
  bpmAlt?: number[] | null;
  /** Only of songs: whether two metrical levels are defensible. */
  tempoAmbiguous?: boolean;
  key?: { tonic: string; mode: string } | null;
  keyUnknown?: boolean;
  beats?: number[] | null;
  downbeats?: number[] | null;
  bars?: number | null;
  loopStart?: number | null;
  loopEnd?: number | null;
}
const isSong = (truth: Truth) => truth.tempoAmbiguous !== undefined;

const RATIOS: [number, string][] = [
  [1, ''],
  [2, 'twice the tempo: one level too low'],
  [1 / 2, 'half the tempo: one level too high'],
  [3, 'three times the tempo'],
  [1 / 3, 'a third of the tempo'],
  [3 / 2, 'three beats for two: the wrong subdivision taken for the beat'],
  [2 / 3, 'two beats for three: the wrong grouping taken for the beat'],
  [4 / 3, 'four beats for three'],
  [3 / 4, 'three beats for four'],
];

const tempoRatio = (truth: Truth, bpm: number) =>
  [truth.bpm!, ...(truth.bpmAlt ?? [])].flatMap((tempo) =>
    RATIOS.filter(([ratio]) => Math.abs(bpm / (tempo * ratio) - 1) < 0.04),
  )[0] ?? null;

const tempoRight = (truth: Truth, bpm: number) =>
  [truth.bpm!, ...(truth.bpmAlt ?? [])].some((tempo) => Math.abs(bpm / tempo - 1) <= 0.04);

const keyRight = (truth: Truth, key: { tonic: string; mode: string }) =>
  pitchClassOf(truth.key!.tonic) === pitchClassOf(key.tonic) && truth.key!.mode === key.mode;

function kindRight(truth: Truth, kind: string): boolean {
  if (truth.kind === 'loop') return kind === 'loop';
  if (truth.kind === 'oneshot')
    return kind === 'oneshot' || (truth.variant === 'real-texture' && kind !== 'loop');
  return kind !== 'oneshot';
}

/** Rows of what is wrong with one item, and why as far as the figures tell. */
export function sayWhy(truth: Truth, prediction: Prediction | undefined): string[][] {
  const kind = isSong(truth) ? `song, ${truth.source}` : `${truth.kind}, ${truth.variant}`;
  const rows: string[][] = [];
  const say = (what: string, why: string) => rows.push([truth.id, kind, what, why]);
  if (!prediction) {
    say('not measured', 'the file gave an error');
    return rows;
  }
  if (!kindRight(truth, prediction.kind))
    say(`taken for a ${prediction.kind}`, 'few or many clear hits for its kind');
  if (truth.kind === 'oneshot') return rows;
  let levelRight = false;
  if (truth.bpm && prediction.bpm) {
    const ratio = tempoRatio(truth, prediction.bpm);
    levelRight = tempoRight(truth, prediction.bpm);
    if (!levelRight) {
      const ambiguous = truth.tempoAmbiguous ? ' (two defensible levels)' : '';
      say(
        `${prediction.bpm.toFixed(2)} for ${truth.bpm} BPM${ambiguous}`,
        ratio?.[1] || 'no simple ratio: another period repeats more strongly',
      );
    }
  } else if (truth.bpm) say(`no tempo for ${truth.bpm} BPM`, 'nothing repeats clearly enough');
  if (levelRight && truth.downbeats?.length && prediction.downbeats.length) {
    const bar = barSeconds(truth);
    const first =
      prediction.downbeats.find((time) => time >= truth.downbeats![0] - 0.1) ?? prediction.downbeats[0];
    const off = Math.min(...truth.downbeats.map((time) => Math.abs(time - first)));
    if (bar && off > 0.07) {
      const beats = (off * prediction.bpm!) / 60;
      say(
        `the one is ${off.toFixed(3)} s off`,
        Math.abs(beats - Math.round(beats)) < 0.15
          ? `another beat of the bar taken for the one (${Math.round(beats)} beats)`
          : Math.abs(beats * 2 - Math.round(beats * 2)) < 0.3
            ? 'off-beats taken for beats'
            : 'soft or early attacks draw the grid',
      );
    } else if (truth.kind === 'loop' && truth.loopEnd != null && prediction.loopEnd != null) {
      const start = 1000 * Math.abs(prediction.loopStart! - truth.loopStart!);
      const end = 1000 * Math.abs(prediction.loopEnd - truth.loopEnd);
      if (prediction.bars !== truth.bars)
        say(`${prediction.bars} bars for ${truth.bars}`, 'start or end bar miscounted');
      else if (Math.max(start, end) > 20)
        say(
          `bounds ${start.toFixed(0)} and ${end.toFixed(0)} ms off`,
          start > 20
            ? 'the attack of the first hit is soft'
            : 'the tempo is not exact enough to reach the end',
        );
    }
  }
  if (truth.key && !(prediction.key && keyRight(truth, prediction.key)))
    say(
      prediction.key
        ? `${prediction.key.tonic} ${prediction.key.mode} for ${truth.key.tonic} ${truth.key.mode}`
        : `no key for ${truth.key.tonic} ${truth.key.mode}`,
      prediction.key ? relation(truth.key, prediction.key) : 'too little lasting tone',
    );
  if (truth.kind === 'loop' && truth.key === null && !truth.keyUnknown && prediction.key)
    say(`${prediction.key.tonic} ${prediction.key.mode} for drums`, 'a tuned drum or cymbal');
  return rows;
}

function barSeconds({ downbeats }: Truth): number | null {
  return downbeats && downbeats.length > 1
    ? (downbeats[downbeats.length - 1] - downbeats[0]) / (downbeats.length - 1)
    : null;
}

function relation(truth: { tonic: string; mode: string }, key: { tonic: string; mode: string }): string {
  const up = ((pitchClassOf(key.tonic) ?? 0) - (pitchClassOf(truth.tonic) ?? 0) + 12) % 12;
  if (truth.mode === key.mode) {
    if (up === 7 || up === 5) return 'a fifth away: the dominant or subdominant weighs too much';
  } else {
    if (up === 0) return 'the other mode of the same tonic: the third is weak or mixed';
    if (up === (truth.mode === 'major' ? 9 : 3)) return 'the relative key: same notes, the other tonic';
  }
  return 'a distant key: few notes, or chords from outside';
}

const BINS = [0, 0.5, 0.7, 0.8, 0.9, 0.97, 1.0001];

type Judged = readonly { truth: Truth; prediction: Prediction | undefined }[];

/** Answers with their confidences, of which it is known whether they are right. */
export function answersOf(items: Judged): Record<'tempo' | 'key' | 'kind', Answer[]> {
  const answers = { tempo: [] as Answer[], key: [] as Answer[], kind: [] as Answer[] };
  for (const { truth, prediction } of items) {
    if (!prediction) continue;
    const ambiguous = truth.tempoAmbiguous;
    if (truth.bpm && prediction.bpm && !ambiguous)
      answers.tempo.push({
        sureness: prediction.tempoSureness ?? 0,
        isRight: tempoRight(truth, prediction.bpm),
      });
    if (truth.key && prediction.key)
      answers.key.push({
        sureness: prediction.keySureness ?? 0,
        isRight: keyRight(truth, prediction.key),
      });
    if (!isSong(truth))
      answers.kind.push({
        sureness: prediction.kindSureness ?? 0,
        isRight: kindRight(truth, prediction.kind),
      });
  }
  return answers;
}

/** Rows of a reliability table: per range of confidence the share of right answers and their number. */
export function reliability(items: Judged): string[][] {
  const answers = answersOf(items);
  return BINS.slice(1).map((to, i) => {
    const from = BINS[i];
    return [
      `${from.toFixed(2)} – ${Math.min(1, to).toFixed(2)}`,
      ...Object.values(answers).map((list) => {
        const inside = list.filter(({ sureness }) => sureness >= from && sureness < to);
        const right = inside.filter(({ isRight }) => isRight).length;
        return inside.length ? `${((100 * right) / inside.length).toFixed(0)} % of ${inside.length}` : '–';
      }),
    ];
  });
}
