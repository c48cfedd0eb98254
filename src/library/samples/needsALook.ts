import { keyLabel, pitchClassOf, type Key } from '@/core/harmony/keyNames';
import type { Doubt, Reason, Witness } from '@/contract/doubt';
import type { SettledState } from '@/contract/settled';
import type { KeyValue, Measurement } from '@/core/measurement/schema';
import { measuredGrid } from '@/core/measurement/measuredGrid';
import { deviations, driftFigures, judgeGrid } from '@/core/rhythm/drift';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { tempoRelation } from '@/core/readings/tempoRelation';
import type { Reading, Source } from '@/core/readings/reading';

/**
 * Below these a value is uncertain. Chosen on recordings that the weights have not met (`npm run doubts`; what each
 * catches and flags stands in docs/method.md). Nothing else that was observed tells wrong ones better than the
 * confidence itself does.
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

/** Sources that are held against what was measured. */
const WITNESSES: readonly Witness[] = ['file name', 'embedded tag', 'stem set'];
const isWitness = (source: Source): source is Witness => (WITNESSES as readonly Source[]).includes(source);

/** What a curator has decided already: such a property is no longer uncertain. */
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
  const say = (weight: number, reason: Reason) => doubts.push({ ...reason, weight });
  const tempoChosen = decided?.tempoChosen ?? false;
  const { tempo } = measured;
  const bpm = decided?.grid?.tempoBpm ?? tempo?.bpm ?? null;
  const measuredKey = keyOf(measured);
  const key = decided?.keyChosen ? (decided.key && 'tonic' in decided.key ? decided.key : null) : measuredKey;
  for (const reading of readings) {
    const by = reading.source;
    if (!isWitness(by)) continue;
    if (reading.property === 'tempo' && bpm !== null && !tempoChosen && reading.sureness >= 0.4) {
      const saysBpm = reading.value;
      const isSaid = doubts.some(
        (one) => one.code === 'tempo disagrees' && one.by === by && one.saysBpm === saysBpm,
      );
      if (!isSaid && !tempoRelation(saysBpm, bpm).agrees)
        say(0.4 + 0.5 * reading.sureness, { code: 'tempo disagrees', by, saysBpm, bpm });
    }
    if (reading.property === 'key' && key && !decided?.keyChosen && !('none' in reading.value)) {
      if (reading.sureness >= 0.5 && keyLabel(reading.value) !== keyLabel(key))
        say(0.3 + 0.3 * reading.sureness, { code: 'key disagrees', by, says: reading.value, key });
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
  const tempoTold = saysTempo('stem set');
  const tempoBorneOut = WITNESSES.some(saysTempo);
  const keyBorneOut = WITNESSES.some(saysKey);
  if (tempoTold) {
    const apart = oneTold(told, measured, decided, bpm!);
    if (Math.abs(apart) > SAME_ONE_SECONDS) say(0.5, { code: 'one disagrees', apartMs: 1000 * apart });
  }
  // Of speech that is said, and nothing else is uncertain beside it, until somebody says that it is music.
  const isSpeech = measured.spoken && !decided?.kind;
  const tempoDoubted = tempo && !isSpeech && !tempoChosen && !tempoBorneOut && tempo.sureness < SURE.tempo;
  if (tempoDoubted) {
    const otherBpm = tempo.alternatives[0]?.bpm ?? null;
    say(1 - tempo.sureness, { code: 'tempo uncertain', bpm: tempo.bpm, otherBpm });
  }
  // Where the tempo is uncertain the one, the time signature and the bars are, too, and that is said.
  const { theOneSureness, meter, loop } = measured;
  if (tempo && !isSpeech && !tempoDoubted && !tempoChosen && measured.kind !== 'oneshot') {
    if (!tempoTold && theOneSureness !== null && theOneSureness < SURE.one)
      say(0.6 * (1 - theOneSureness), { code: 'one uncertain', sureness: theOneSureness });
    // What a curator or the set says of the time signature is no guess, nor are the bars that follow from it.
    const settled = decided?.grid?.meter;
    const meterTold = tempoTold || (meter && settled && meterText(settled) !== meterText(meter));
    const meterDoubted = meter && !meterTold && meter.sureness < SURE.meter;
    if (meterDoubted)
      say(0.5 * (1 - meter.sureness), {
        code: 'meter uncertain',
        meter: meterOf(meter),
        sureness: meter.sureness,
      });
    if (loop && !meterDoubted && !meterTold && loop.sureness < SURE.bars)
      say(0.5 * (1 - loop.sureness), { code: 'bars uncertain', bars: loop.bars, sureness: loop.sureness });
  }
  if (!tempo && !isSpeech && bpm === null && measured.kind !== 'oneshot') say(0.9, { code: 'no tempo' });
  // A one-shot has a root, which is no guess among keys.
  const isKeyed = measured.key && !isSpeech && measured.kind !== 'oneshot';
  if (isKeyed && measured.key && !decided?.keyChosen && !keyBorneOut && measured.key.sureness < SURE.key) {
    const [other] = measured.key.alternatives;
    say(0.3 * (1 - measured.key.sureness), {
      code: 'key uncertain',
      key: measuredKey!,
      other: other ? keyOf({ key: other }) : null,
    });
  }
  if (
    !decided?.kind &&
    !decided?.inStemSet &&
    !nothingIn(measured) &&
    measured.kindSureness < SURE.kind &&
    measured.kind !== 'midi'
  )
    say(0.5 * (1 - measured.kindSureness), { code: 'kind uncertain', kind: measured.kind });
  const what = nothingIn(measured);
  if (what && !decided?.kind) say(0.6, { code: 'nothing to measure', what });
  const fault = isSpeech ? null : gridFault(measured, decided);
  if (fault) say(0.5, fault);
  if (tempo && !isSpeech && !tempo.steady && !tempoChosen) say(0.5, { code: 'drifts' });
  if (
    loop &&
    !decided?.inStemSet &&
    (loop.start > TRIM_SECONDS || Math.abs(loop.end - measured.durationSeconds) > TRIM_SECONDS)
  )
    say(0.15, { code: 'not trimmed' });
  return doubts;
}

/** Flatter than this, with hardly a hit and no pitch, is noise that goes on: from spectra of recorded textures. */
const NOISY_FLATNESS = 0.25;
const LONG_SECONDS = 2;

/** Why there is nothing in it to measure, or next to nothing; null where there is. */
function nothingIn(measured: Measurement): 'speech' | 'silence' | 'noise' | null {
  const { tempo, key, chroma, character, onsets, rootNote, durationSeconds, spoken } = measured;
  if (spoken) return 'speech';
  if (tempo || key) return null;
  if (character === null && onsets.length === 0) return chroma === null ? 'silence' : null;
  const isNoise = (character?.flatness ?? 0) > NOISY_FLATNESS && rootNote === null && onsets.length <= 2;
  return isNoise && durationSeconds > LONG_SECONDS ? 'noise' : null;
}

/** What speaks against the grid when its hits are held against it, as proving by figures does; null for nothing. */
function gridFault(measured: Measurement, decided: Decided | null): Reason | null {
  const { onsets, durationSeconds } = measured;
  const grid = decided?.grid ?? (measured.meter ? measuredGrid(measured) : null);
  if (!grid || measured.kind === 'midi' || measured.kind === 'oneshot' || durationSeconds < SHORTEST_JUDGED)
    return null;
  const figures = driftFigures(deviations(onsets, grid, durationSeconds), grid);
  if (figures.hits < FEWEST_HITS) return null;
  const bars = Math.floor(beatPosition(grid, durationSeconds) / feltBeatsPerBar(grid.meter));
  switch (judgeGrid(figures, bars, measured.character?.attackMs ?? 0)) {
    case 'tempo':
      return {
        code: 'grid leans',
        isLate: figures.slopeMsPerBar! > 0,
        barsUntil20Ms: Math.max(1, Math.round(figures.barsUntil20Ms ?? 0)),
      };
    case 'place':
      return { code: 'grid is beside', medianMs: figures.medianMs! };
    case 'moving':
      return { code: 'tempo moves', wanderMs: figures.wanderMs! };
    default:
      return null;
  }
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
export function needOf(
  { tempo, key }: { tempo: { sureness: number } | null; key: { sureness: number } | null },
  doubts: readonly Doubt[],
): number {
  const unsure = tempo ? 0.2 * (1 - tempo.sureness) : 0;
  const unsureKey = key ? 0.05 * (1 - key.sureness) : 0;
  const fine = doubts.reduce((share, { weight }) => share * (1 - Math.min(0.98, weight)), 1);
  return 1 - fine * (1 - unsure) * (1 - unsureKey);
}

function keyOf({ key }: { key: KeyValue | null }): Key | null {
  if (!key) return null;
  const tonic = pitchClassOf(key.tonic);
  return tonic === null ? null : { tonic, mode: key.mode };
}

const meterOf = ({ beatsPerBar, beatUnit }: { beatsPerBar: number; beatUnit: number }) => ({
  beatsPerBar,
  beatUnit,
});
const meterText = ({ beatsPerBar, beatUnit }: { beatsPerBar: number; beatUnit: number }) =>
  `${beatsPerBar}/${beatUnit}`;
