import { keyLabel, pitchClassOf } from '@/core/harmony/keyNames';
import type { KeyValue, Measurement } from '@/core/measurement/schema';
import type { KeyReadingValue, Reading } from '@/core/readings/reading';

/** Alternatives that are less likely than this are not offered. */
const WORTH_SAYING = 0.01;

/** The measurement as readings: for each property the first choice, then its alternatives. */
export function detectorReadings(measured: Measurement): Reading[] {
  const readings: Reading[] = [];
  const { tempo, meter, key } = measured;
  const source = 'detector';
  if (tempo) {
    const words = tempo.steady ? 'one tempo over the whole file' : 'average of a changing tempo';
    readings.push({ property: 'tempo', value: tempo.bpm, source, sureness: tempo.sureness, detail: words });
    for (const { bpm, sureness } of tempo.alternatives) {
      if (sureness < WORTH_SAYING) continue;
      readings.push({ property: 'tempo', value: bpm, source, sureness, detail: 'alternative' });
    }
  }
  if (measured.theOne !== null && meter) {
    readings.push({
      property: 'one',
      value: measured.theOne,
      source,
      sureness: measured.theOneSureness ?? meter.sureness,
      detail: 'first downbeat with sound',
    });
  }
  if (meter) {
    const { beatsPerBar, beatUnit, sureness } = meter;
    readings.push({ property: 'meter', value: { beatsPerBar, beatUnit }, source, sureness, detail: '' });
  }
  if (key) {
    readings.push({ property: 'key', value: keyNumber(key), source, sureness: key.sureness, detail: '' });
    for (const other of key.alternatives.slice(0, 3)) {
      readings.push({
        property: 'key',
        value: keyNumber(other),
        source,
        sureness: other.sureness,
        detail: 'alternative',
      });
    }
  } else {
    readings.push({
      property: 'key',
      value: { none: true },
      source,
      sureness: 0.8,
      detail: 'not enough lasting tone',
    });
  }
  if (measured.tuningCents !== null) {
    readings.push({
      property: 'tuning',
      value: measured.tuningCents,
      source,
      sureness: 0.8,
      detail: 'against A4 = 440 Hz',
    });
  }
  return readings;
}

/** Throws RangeError for a tonic that is no note name. */
function keyNumber({ tonic, mode }: KeyValue): Exclude<KeyReadingValue, { none: true }> {
  const pitch = pitchClassOf(tonic);
  if (pitch === null)
    throw new RangeError(`${tonic} is not a note (${keyLabel({ tonic: 0, mode })} would be)`);
  return { tonic: pitch, mode };
}
