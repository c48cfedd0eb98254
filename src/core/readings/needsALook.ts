import { keyLabel } from '../harmony/keyNames';
import type { Measurement } from '../measurement/schema';
import { tempoRelation } from './tempoRelation';
import type { Reading } from './reading';

/** Below this a measured tempo is a guess between levels. */
const SURE_TEMPO = 0.55;
const SURE_KEY = 0.4;
/** A loop whose bounds lie further than this from the file's ends was not trimmed. */
const TRIM_SECONDS = 0.03;

/** Why a sample needs a look, each a sentence for the Intake; empty when all witnesses agree. */
export function reasonsForALook(measured: Measurement, readings: readonly Reading[]): string[] {
  const reasons: string[] = [];
  const tempo = measured.tempo;
  for (const reading of readings) {
    if (reading.source !== 'file name' && reading.source !== 'embedded tag') continue;
    const who = reading.source === 'file name' ? 'name' : 'tag';
    if (reading.property === 'tempo' && tempo && reading.sureness >= 0.4) {
      const relation = tempoRelation(reading.value, tempo.bpm);
      if (!relation.agrees) {
        const guess = relation.ratio ? `: ${relation.words}?` : '';
        reasons.push(`${who} says ${number(reading.value)}, measured ${number(tempo.bpm)}${guess}`);
      }
    }
    if (reading.property === 'key' && measured.key && !('none' in reading.value) && reading.sureness >= 0.5) {
      const measuredLabel = `${measured.key.tonic.replace('b', '♭').replace('#', '♯')} ${measured.key.mode}`;
      if (keyLabel(reading.value) !== measuredLabel)
        reasons.push(`${who} says ${keyLabel(reading.value)}, measured ${measuredLabel}`);
    }
  }
  if (tempo && tempo.sureness < SURE_TEMPO && tempo.alternatives[0]) {
    reasons.push(`tempo in doubt: ${number(tempo.bpm)} or ${number(tempo.alternatives[0].bpm)}`);
  }
  if (!tempo && measured.kind !== 'oneshot') reasons.push('no tempo found');
  if (measured.key && measured.key.sureness < SURE_KEY) reasons.push('key in doubt');
  if (tempo && !tempo.steady) reasons.push('tempo drifts');
  const { loop } = measured;
  if (loop && (loop.start > TRIM_SECONDS || Math.abs(loop.end - measured.durationSeconds) > TRIM_SECONDS)) {
    reasons.push('not trimmed to bars');
  }
  return reasons;
}

function number(bpm: number): string {
  return String(Math.round(bpm * 100) / 100);
}
