import { repitchedGroup, strainGroupOf } from '@/core/timeStretch/strainGroup';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { featuresOf, togetherOf, type Features, type LikeBy } from '@/core/resemblance/features';
import { barsOf } from './barsOf';
import { isRowUnpitched } from './toneless';
import { keyNumber } from '@/core/harmony/keyNames';
import type { Status, ProofState } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import type { Measurement, SampleKind } from '@/core/measurement/schema';
import { isToDo, needBit, sortOf, type Doubt } from '@/contract/doubt';
import { facetBits } from '@/core/tags/facetBits';

/**
 * What a row says follows from these rules: raised whenever they change (a new doubt, other features), so that rows of
 * before are said again.
 */
export const ROW_RULES = 5;

/** What lists, searches and filters ask of a sample: the one indexed row that the store keeps of it. */
export interface ListRow {
  sampleId: string;
  sequence: number | null;
  savedAt: string | null;
  binnedAt: string | null;
  name: string;
  kind: SampleKind | null;
  standing: Status;
  faulty: boolean;
  durationSeconds: number | null;
  tempoBpm: number | null;
  oneSeconds: number | null;
  beatsPerBar: number | null;
  beatUnit: number | null;
  steady: boolean | null;
  bars: number | null;
  keyNumber: number | null;
  /** Settled as having no key. */
  keyless: boolean;
  /** It has no lasting pitch (`isToneless`). */
  toneless: boolean;
  tuningCents: number | null;
  /** Samples of one are strained alike by every target (core/timeStretch/strainGroup). */
  strainGroup: number;
  tempoSureness: number | null;
  keySureness: number | null;
  proof: ProofState | null;
  rating: number | null;
  origin: string;
  licence: string;
  /** Place in the Intake's order by need: the higher, the more it wants a curator. */
  urgency: number;
  doubtSorts: number;
  doubts: readonly Doubt[];
  /** What waits to be done: no value is uncertain for it. */
  todos: readonly Doubt[];
  /** Tags of closed facets as bits, and free words. */
  facets: string;
  words: readonly string[];
  searchText: string;
  /** Where it lies among others, as the store writes it; null before it is measured. */
  like: Record<LikeBy, string> | null;
}

/** What of a sample its row is made from. */
export interface Listed {
  sampleId: string;
  arrivedAs: string;
  folder: string;
  kind: SampleKind | null;
  fault: string | null;
  durationSeconds: number | null;
  measurement: Measurement | null;
  savedAt: string | null;
  binnedAt: string | null;
  sequence: number | null;
  state: SettledState;
  proof: ProofState | null;
  doubts: readonly Doubt[];
  /** 0 … 1, of what is measured. */
  need: number;
  /** Whether measuring alone says the value: nobody has chosen, accepted or proved it, and it is not so by construction. */
  isGuess: { tempo: boolean; key: boolean };
  toneless: boolean;
  /** Whole bars that it was made with; null where it was not, or its grid is another by now. */
  madeBars: number | null;
}

/** What of a row is written where nothing that follows from measurement, readings or proofs is another now. */
export type LightRow = Pick<
  ListRow,
  | 'sampleId'
  | 'sequence'
  | 'savedAt'
  | 'binnedAt'
  | 'name'
  | 'standing'
  | 'rating'
  | 'origin'
  | 'licence'
  | 'urgency'
  | 'doubtSorts'
  | 'doubts'
  | 'todos'
  | 'facets'
  | 'words'
  | 'searchText'
  | 'strainGroup'
>;

/** What a light row is made from. */
export type LightListed = Omit<Listed, 'measurement' | 'durationSeconds' | 'madeBars' | 'isGuess'> & {
  isMeasured: boolean;
  /** Its group of strain, whatever pitch that says. */
  strainGroup: number;
};

export function lightRowOf(sample: LightListed): LightRow {
  const { state, doubts } = sample;
  const { tags } = state;
  const standing = statusOf(sample);
  const name = state.title ?? sample.arrivedAs;
  return {
    sampleId: sample.sampleId,
    sequence: sample.sequence,
    savedAt: sample.savedAt,
    binnedAt: sample.binnedAt,
    name,
    standing,
    rating: state.rating,
    origin: state.origin,
    licence: state.licence,
    urgency: urgencyOf(sample, standing),
    doubtSorts: doubts.reduce((bits, one) => bits | needBit(sortOf(one)), 0),
    doubts: doubts.filter((doubt) => !isToDo(doubt)),
    todos: doubts.filter(isToDo),
    facets: facetBits(tags),
    words: tags.filter(({ facet }) => facet === 'word').map(({ value }) => value),
    searchText: searchTextOf([
      name,
      state.title === null ? '' : sample.arrivedAs,
      sample.folder,
      ...tags.map(({ value }) => value),
      state.note,
      state.origin,
    ]),
    strainGroup: repitchedGroup(sample.strainGroup, {
      kind: state.kind ?? sample.kind,
      key: keyIn(state),
      isUnpitched: isRowUnpitched({ toneless: sample.toneless, tags }),
    }),
  };
}

const keyIn = ({ key }: SettledState) => (key && 'tonic' in key ? key : null);

export function listRowOf(sample: Listed): ListRow {
  const { state, measurement, proof } = sample;
  const { grid, key } = state;
  const features = featuresOf(measurement, grid);
  const kind = state.kind ?? sample.kind;
  const tempoBpm = grid?.tempoBpm ?? null;
  const bars = sample.madeBars ?? barsOf(grid, measurement, sample.durationSeconds);
  const settledKey = keyIn(state);
  const strainGroup = strainGroupOf({
    ...{ kind, tempoBpm, bars, tuningCents: null, key: null, isUnpitched: false },
    beatsPerBar: grid && feltBeatsPerBar(grid.meter),
  });
  return {
    ...lightRowOf({ ...sample, isMeasured: measurement !== null, strainGroup }),
    ...{ kind, tempoBpm, bars },
    faulty: sample.fault !== null,
    durationSeconds: sample.durationSeconds,
    oneSeconds: grid?.one ?? null,
    beatsPerBar: grid?.meter.beatsPerBar ?? null,
    beatUnit: grid?.meter.beatUnit ?? null,
    steady: grid ? grid.movingBeats === null : null,
    keyNumber: settledKey && keyNumber(settledKey),
    keyless: key !== null && 'none' in key,
    toneless: sample.toneless,
    tuningCents: state.tuningCents,
    tempoSureness: sample.isGuess.tempo ? (measurement?.tempo?.sureness ?? null) : null,
    keySureness: sample.isGuess.key ? (measurement?.key?.sureness ?? null) : null,
    proof,
    like: features && cubesOf(features),
  };
}

/** Features as the store writes them: "(0.1, 0.2)". */
function cubesOf(features: Features): Record<LikeBy, string> {
  const place = (values: readonly number[]) => `(${values.join(', ')})`;
  const { rhythm, sound, harmony } = features;
  const all = togetherOf(features);
  return { rhythm: place(rhythm), sound: place(sound), harmony: place(harmony), all: place(all) };
}

/** How far a sample has come. */
function statusOf({
  savedAt,
  isMeasured,
  proof,
}: Pick<LightListed, 'savedAt' | 'isMeasured' | 'proof'>): Status {
  if (savedAt !== null) return 'saved';
  if (!isMeasured) return 'arrived';
  return proof === 'current' ? 'proved' : 'measured';
}

/** What cannot be read comes first, then by need; what is not measured has none yet, what is saved has none any more. */
function urgencyOf({ fault, isMeasured, need }: LightListed, standing: Status): number {
  if (standing === 'saved') return -2;
  if (fault !== null) return 2;
  return isMeasured ? need : -1;
}

/** The parts of a word, which change at marks, capitals and digits; the sharp of a note stays with it. */
const wordsWithin = (word: string): string[] =>
  word
    .replace(/(\p{Ll})(?=\p{Lu})|(\p{L}[#♯]?)(?=\d)|(\d)(?=\p{L})/gu, '$& ')
    .split(/[^\p{L}\p{N}#♯♭]+/u)
    .filter(Boolean);

/** Lower case, one space before each word: how the index of words has it. */
export function searchTextOf(parts: readonly string[]): string {
  const words = parts.join(' ').split(/\s+/).filter(Boolean);
  // "Lead_90.ogg" is found by itself, and by each of its parts.
  const split = words.map(wordsWithin).filter((within) => within.length > 1);
  return ` ${[...words, ...split.flat()].join(' ').toLowerCase()}`;
}
