import { keyLabel, pitchClassOf, type Key } from '../harmony/keyNames';
import type { SettledState } from './settled';
import type { Measurement } from '../measurement/schema';
import { feltBeatsPerBar } from '../rhythm/grid';
import { tempoRelation } from '../readings/tempoRelation';
import type { Reading, Source } from '../readings/reading';

/** The sorts of reasons, as the Intake filters by them. */
export const NEED_SORTS = [
  'sources disagree',
  'tempo in doubt',
  'key in doubt',
  'drifts',
  'not trimmed',
  'alike',
  'damaged',
  'not as planned',
] as const;
type NeedSort = (typeof NEED_SORTS)[number];

/** One reason why a curator should look. */
export interface Doubt {
  sort: NeedSort;
  /** A sentence for the Intake. */
  words: string;
  /** How much it matters, 0 … 1: how likely it is that what is settled is wrong or unusable. */
  weight: number;
}

/** Below this a measured tempo is a guess between levels. */
const SURE_TEMPO = 0.55;
const SURE_KEY = 0.4;
/** A loop whose bounds lie further than this from the file's ends was not trimmed. */
const TRIM_SECONDS = 0.03;
/** Ones that lie nearer to each other are the same. */
const SAME_ONE_SECONDS = 0.03;

/** Sources that are held against what was measured, as the Intake calls them. */
const WITNESSES: Partial<Record<Source, string>> = {
  'file name': 'name',
  'embedded tag': 'tag',
  'stem set': 'its stem set',
};

/** What a curator has decided already: such a property is no longer in doubt. */
export type Decided = Pick<SettledState, 'grid' | 'key' | 'accepted'> & {
  /** Whether the settled tempo (key) was chosen by somebody rather than by measuring. */
  tempoChosen: boolean;
  keyChosen: boolean;
  /** In a stem set, proposed or joined: silence at its beginning and end keeps the stems together. */
  inStemSet: boolean;
};

/** Why a sample needs a look; empty when all witnesses agree or a curator has said that it is right. */
export function doubtsAbout(
  measured: Measurement,
  readings: readonly Reading[],
  decided: Decided | null = null,
): Doubt[] {
  if (decided?.accepted) return [];
  const doubts: Doubt[] = [];
  const say = (sort: NeedSort, weight: number, words: string) => doubts.push({ sort, words, weight });
  const tempoChosen = decided?.tempoChosen ?? false;
  const { tempo } = measured;
  const bpm = decided?.grid?.tempoBpm ?? tempo?.bpm ?? null;
  const measuredKey = keyOf(measured);
  const key = decided?.keyChosen ? (decided.key && 'tonic' in decided.key ? decided.key : null) : measuredKey;
  for (const reading of readings) {
    const who = WITNESSES[reading.source];
    if (!who) continue;
    if (reading.property === 'tempo' && bpm !== null && !tempoChosen && reading.sureness >= 0.4) {
      const relation = tempoRelation(reading.value, bpm);
      if (!relation.agrees) {
        const guess = relation.ratio ? `: ${relation.words}?` : '';
        const words = `${who} says ${number(reading.value)}, measured ${number(bpm)}${guess}`;
        if (!doubts.some((doubt) => doubt.words === words))
          say('sources disagree', 0.4 + 0.5 * reading.sureness, words);
      }
    }
    if (reading.property === 'key' && key && !decided?.keyChosen && !('none' in reading.value)) {
      if (reading.sureness >= 0.5 && keyLabel(reading.value) !== keyLabel(key))
        say(
          'sources disagree',
          0.3 + 0.3 * reading.sureness,
          `${who} says ${keyLabel(reading.value)}, measured ${keyLabel(key)}`,
        );
    }
  }
  // What the clearest stem of its set says as well is no guess.
  const told = readings.filter(({ source }) => source === 'stem set');
  const tempoTold = told.some(
    ({ property, value }) => property === 'tempo' && bpm !== null && tempoRelation(value, bpm).agrees,
  );
  const keyTold = told.some(
    ({ property, value }) =>
      property === 'key' && key && !('none' in value) && keyLabel(value) === keyLabel(key),
  );
  if (tempoTold) {
    const apart = oneTold(told, measured, decided, bpm!);
    const words = `${Math.round(1000 * Math.abs(apart))} ms ${apart < 0 ? 'earlier' : 'later'}`;
    if (Math.abs(apart) > SAME_ONE_SECONDS)
      say('sources disagree', 0.5, `its stem set puts the one ${words}`);
  }
  if (tempo && !tempoChosen && !tempoTold && tempo.sureness < SURE_TEMPO && tempo.alternatives[0]) {
    const words = `tempo in doubt: ${number(tempo.bpm)} or ${number(tempo.alternatives[0].bpm)}`;
    say('tempo in doubt', 1 - tempo.sureness, words);
  }
  if (!tempo && bpm === null && measured.kind !== 'oneshot') say('tempo in doubt', 0.9, 'no tempo found');
  if (measured.key && !decided?.keyChosen && !keyTold && measured.key.sureness < SURE_KEY)
    say('key in doubt', 0.3 * (1 - measured.key.sureness), 'key in doubt');
  if (tempo && !tempo.steady && !tempoChosen) say('drifts', 0.5, 'tempo drifts');
  const { loop } = measured;
  if (
    loop &&
    !decided?.inStemSet &&
    (loop.start > TRIM_SECONDS || Math.abs(loop.end - measured.durationSeconds) > TRIM_SECONDS)
  )
    say('not trimmed', 0.15, 'not trimmed to bars');
  return doubts;
}

/**
 * How much later than measured, in seconds, the one stands that a stem is told, within half a bar: the same bars
 * counted from another one are the same grid. 0 where nobody tells it, or a curator has put it elsewhere.
 */
function oneTold(
  told: readonly Reading[],
  { theOne, meter: measuredMeter }: Measurement,
  decided: Decided | null,
  bpm: number,
): number {
  const reading = told.find(({ property }) => property === 'one');
  const meter = decided?.grid?.meter ?? measuredMeter;
  const moved = decided?.grid && decided.grid.one !== theOne;
  if (reading?.property !== 'one' || theOne === null || !meter || moved) return 0;
  const bar = (feltBeatsPerBar(meter) * 60) / bpm;
  const apart = reading.value - theOne;
  return apart - bar * Math.round(apart / bar);
}

/**
 * How much a sample needs a curator: 0 when everything is sure, towards 1 with doubts (each by itself may be
 * the one that matters), and a little for unsureness that is no doubt yet, so that sure ones are in order too.
 */
export function needOf(measured: Measurement, doubts: readonly Doubt[]): number {
  const unsure = measured.tempo ? 0.2 * (1 - measured.tempo.sureness) : 0;
  const unsureKey = measured.key ? 0.05 * (1 - measured.key.sureness) : 0;
  const fine = doubts.reduce((share, { weight }) => share * (1 - Math.min(0.98, weight)), 1);
  return 1 - fine * (1 - unsure) * (1 - unsureKey);
}

function keyOf({ key }: Measurement): Key | null {
  if (!key) return null;
  const tonic = pitchClassOf(key.tonic);
  return tonic === null ? null : { tonic, mode: key.mode };
}

function number(bpm: number): string {
  return String(Math.round(bpm * 100) / 100);
}
