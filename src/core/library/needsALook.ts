import { keyLabel, pitchClassOf, type Key } from '../harmony/keyNames';
import type { SettledState } from './settled';
import type { KeyValue, Measurement } from '../measurement/schema';
import { measuredGrid } from '../measurement/measuredGrid';
import { deviations, driftFigures, judgeGrid } from '../rhythm/drift';
import { beatPosition, feltBeatsPerBar } from '../rhythm/grid';
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
  'the one in doubt',
  'kind in doubt',
  'does not fit',
  'to join',
  'meter in doubt',
  'bars in doubt',
] as const;
type NeedSort = (typeof NEED_SORTS)[number];

/** Sorts that say that something useful waits; all others say that a value may be wrong. */
const TO_DO: readonly NeedSort[] = ['not trimmed', 'alike', 'to join'];
export const DOUBT_SORTS = NEED_SORTS.filter((sort) => !TO_DO.includes(sort));
export const TO_DO_SORTS = NEED_SORTS.filter((sort) => TO_DO.includes(sort));
export const isToDo = ({ sort }: Pick<Doubt, 'sort'>): boolean => TO_DO.includes(sort);

/** The bit of a sort; their order is stored, new ones go to the end. */
export const needBit = (sort: NeedSort): number => 1 << NEED_SORTS.indexOf(sort);
const bitsOf = (sorts: readonly NeedSort[]): number => sorts.reduce((bits, sort) => bits | needBit(sort), 0);
/** All bits of sorts that say that a value may be wrong, and of those that say that something waits. */
export const DOUBT_BITS = bitsOf(DOUBT_SORTS);
export const TO_DO_BITS = bitsOf(TO_DO_SORTS);

/** One reason why a curator should look, or something that waits for one. */
export interface Doubt {
  sort: NeedSort;
  /** A sentence for the Intake. */
  words: string;
  /** How much it matters, 0 … 1: how likely it is that what is settled is wrong or unusable. */
  weight: number;
}

/**
 * Below these a value is in doubt. Chosen on recordings that the weights have not met (`npm run doubts`; what each
 * catches and flags stands in docs/method.md). Nothing else that was observed tells wrong ones better than the
 * sureness itself does.
 */
export const SURE = { tempo: 0.8, one: 0.85, key: 0.9, kind: 0.8, meter: 0.9, bars: 0.8 };
/** A grid is judged by its hits only where there are so many: a few soft ones say nothing. */
const FEWEST_HITS = 12;
/** … in recordings of this length, seconds: in shorter ones the attacks of a few sounds decide. */
const SHORTEST_JUDGED = 12;
/** A loop whose bounds lie further than this from the file's ends was not trimmed. */
const TRIM_SECONDS = 0.03;
/** A name, tag or stem that is as sure as this bears out what was measured. */
const SURE_WITNESS = 0.5;
/** Ones that lie nearer to each other are the same. */
const SAME_ONE_SECONDS = 0.03;

/** Sources that are held against what was measured, as the Intake calls them. */
const WITNESSES: Partial<Record<Source, string>> = {
  'file name': 'name',
  'embedded tag': 'tag',
  'stem set': 'its stem set',
};

/** What a curator has decided already: such a property is no longer in doubt. */
export type Decided = Pick<SettledState, 'grid' | 'key' | 'accepted' | 'kind'> & {
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
  // What another witness says as well is no guess.
  const told = readings.filter(({ source }) => source === 'stem set');
  const says = (property: Reading['property'], agrees: (reading: Reading) => boolean) => (from: Source) =>
    readings.some(
      (one) =>
        one.source === from && one.property === property && one.sureness >= SURE_WITNESS && agrees(one),
    );
  const saysTempo = says(
    'tempo',
    ({ property, value }) => property === 'tempo' && bpm !== null && tempoRelation(value, bpm).agrees,
  );
  const saysKey = says(
    'key',
    ({ property, value }) =>
      property === 'key' && key !== null && !('none' in value) && keyLabel(value) === keyLabel(key),
  );
  const witnesses = Object.keys(WITNESSES) as Source[];
  const tempoTold = saysTempo('stem set');
  const tempoBorneOut = witnesses.some(saysTempo);
  const keyBorneOut = witnesses.some(saysKey);
  if (tempoTold) {
    const apart = oneTold(told, measured, decided, bpm!);
    const words = `${Math.round(1000 * Math.abs(apart))} ms ${apart < 0 ? 'earlier' : 'later'}`;
    if (Math.abs(apart) > SAME_ONE_SECONDS)
      say('sources disagree', 0.5, `its stem set puts the one ${words}`);
  }
  // Of speech that is said, and nothing else is in doubt beside it, until somebody says that it is music.
  const isSpeech = measured.spoken && !decided?.kind;
  const tempoDoubted = tempo && !isSpeech && !tempoChosen && !tempoBorneOut && tempo.sureness < SURE.tempo;
  if (tempoDoubted) {
    const other = tempo.alternatives[0];
    const words = `tempo in doubt: ${number(tempo.bpm)}${other ? ` or ${number(other.bpm)}` : ''}`;
    say('tempo in doubt', 1 - tempo.sureness, words);
  }
  // Where the tempo is in doubt the one, the meter and the bars are, too, and that is said.
  const { theOneSureness, meter, loop } = measured;
  if (tempo && !isSpeech && !tempoDoubted && !tempoChosen && measured.kind !== 'oneshot') {
    if (!tempoTold && theOneSureness !== null && theOneSureness < SURE.one)
      say(
        'the one in doubt',
        0.6 * (1 - theOneSureness),
        `the one in doubt: ${percent(theOneSureness)} sure`,
      );
    // What a curator or the set says of the meter is no guess, nor are the bars that follow from it.
    const settled = decided?.grid?.meter;
    const meterTold = tempoTold || (meter && settled && meterText(settled) !== meterText(meter));
    const meterDoubted = meter && !meterTold && meter.sureness < SURE.meter;
    if (meterDoubted)
      say(
        'meter in doubt',
        0.5 * (1 - meter.sureness),
        `meter in doubt: ${meterText(meter)}, ${percent(meter.sureness)} sure`,
      );
    if (loop && !meterDoubted && !meterTold && loop.sureness < SURE.bars)
      say(
        'bars in doubt',
        0.5 * (1 - loop.sureness),
        `bars in doubt: ${loop.bars}, ${percent(loop.sureness)} sure`,
      );
  }
  if (!tempo && !isSpeech && bpm === null && measured.kind !== 'oneshot')
    say('tempo in doubt', 0.9, 'no tempo found');
  // A one-shot has a root, which is no guess among keys.
  const isKeyed = measured.key && !isSpeech && measured.kind !== 'oneshot';
  if (isKeyed && measured.key && !decided?.keyChosen && !keyBorneOut && measured.key.sureness < SURE.key) {
    const [other] = measured.key.alternatives;
    const or = other
      ? `${keyLabel(measuredKey!)} or ${keyLabel(keyOf({ key: other })!)}`
      : keyLabel(measuredKey!);
    say('key in doubt', 0.3 * (1 - measured.key.sureness), `key in doubt: ${or}`);
  }
  if (
    !decided?.kind &&
    !decided?.inStemSet &&
    !nothingIn(measured) &&
    measured.kindSureness < SURE.kind &&
    measured.kind !== 'midi'
  )
    say(
      'kind in doubt',
      0.5 * (1 - measured.kindSureness),
      measured.kind === 'oneshot'
        ? 'kind in doubt: a one-shot, or a loop'
        : `kind in doubt: a ${measured.kind}, or one sound`,
    );
  const empty = nothingIn(measured);
  if (empty && !decided?.kind) say('kind in doubt', 0.6, empty);
  const fit = isSpeech ? null : gridFault(measured, decided);
  if (fit) say('does not fit', 0.5, fit);
  if (tempo && !isSpeech && !tempo.steady && !tempoChosen) say('drifts', 0.5, 'tempo drifts');
  if (
    loop &&
    !decided?.inStemSet &&
    (loop.start > TRIM_SECONDS || Math.abs(loop.end - measured.durationSeconds) > TRIM_SECONDS)
  )
    say('not trimmed', 0.15, 'not trimmed to bars');
  return doubts;
}

/** Flatter than this, with hardly a hit and no pitch, is noise that goes on: from spectra of recorded textures. */
const NOISY_FLATNESS = 0.25;
const LONG_SECONDS = 2;

/** That there is nothing in it to measure, or next to nothing, in words; null where there is. */
function nothingIn(measured: Measurement): string | null {
  const { tempo, key, chroma, character, onsets, rootNote, durationSeconds, spoken } = measured;
  if (spoken) return 'speech: what recurs in it need be no beat, and no key';
  if (tempo || key) return null;
  if (character === null && onsets.length === 0) return chroma === null ? 'only silence' : null;
  const isNoise = (character?.flatness ?? 0) > NOISY_FLATNESS && rootNote === null && onsets.length <= 2;
  return isNoise && durationSeconds > LONG_SECONDS ? 'noise that goes on, without hits or pitch' : null;
}

/** What speaks against the grid when its hits are held against it, as proving by figures does; null for nothing. */
function gridFault(measured: Measurement, decided: Decided | null): string | null {
  const { onsets, durationSeconds } = measured;
  const grid = decided?.grid ?? (measured.meter ? measuredGrid(measured) : null);
  if (!grid || measured.kind === 'midi' || measured.kind === 'oneshot' || durationSeconds < SHORTEST_JUDGED)
    return null;
  const figures = driftFigures(deviations(onsets, grid, durationSeconds), grid);
  if (figures.hits < FEWEST_HITS) return null;
  const bars = Math.floor(beatPosition(grid, durationSeconds) / feltBeatsPerBar(grid.meter));
  const { fault, words } = judgeGrid(figures, bars);
  return ['tempo', 'place', 'moving'].includes(fault)
    ? `${words[0].toLowerCase()}${words.slice(1, -1)}`
    : null;
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

function keyOf({ key }: { key: KeyValue | null }): Key | null {
  if (!key) return null;
  const tonic = pitchClassOf(key.tonic);
  return tonic === null ? null : { tonic, mode: key.mode };
}

function number(bpm: number): string {
  return String(Math.round(bpm * 100) / 100);
}

const meterText = ({ beatsPerBar, beatUnit }: { beatsPerBar: number; beatUnit: number }) =>
  `${beatsPerBar}/${beatUnit}`;

const percent = (share: number) => `${Math.round(100 * share)} %`;
