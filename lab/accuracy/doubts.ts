import { pitchClassOf } from '@/core/harmony/keyNames';
import type { NEED_SORTS } from '@/contract/doubt';
import type { Measurement } from '@/core/measurement/schema';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { feltSizeOf, type Truth } from '../training/truth';

type Verdict = 'right' | 'wrong' | null;
export type Property = 'tempo' | 'one' | 'meter' | 'bars' | 'key' | 'kind';
/** Of each property whether it is right; null where nobody knows, or it is not given. */
export type Judged = Record<Property, Verdict>;

/** Which sorts of doubts are about which property. */
export const PROPERTIES: readonly { property: Property; sorts: readonly (typeof NEED_SORTS)[number][] }[] = [
  { property: 'tempo', sorts: ['tempo in doubt', 'does not fit'] },
  { property: 'one', sorts: ['the one in doubt', 'tempo in doubt', 'does not fit'] },
  { property: 'meter', sorts: ['meter in doubt', 'tempo in doubt', 'does not fit'] },
  { property: 'bars', sorts: ['bars in doubt', 'meter in doubt', 'tempo in doubt', 'does not fit'] },
  { property: 'key', sorts: ['key in doubt'] },
  { property: 'kind', sorts: ['kind in doubt'] },
];

/** A tempo is right within this share at the level of the truth, a downbeat within so many seconds. */
const SAME_TEMPO = 0.04;
const SAME_ONE = 0.07;

/** What of a measurement is right. The one counts only where the tempo is. */
export function judged(truth: Truth & { tempoAmbiguous?: boolean }, measured: Measurement): Judged {
  const verdict = (isRight: boolean): Verdict => (isRight ? 'right' : 'wrong');
  const { tempo, key, kind, downbeats } = measured;
  const levels = truth.bpm && !truth.tempoAmbiguous ? [truth.bpm, ...(truth.bpmAlt ?? [])] : [];
  const tempoIs =
    tempo && levels.length > 0
      ? verdict(levels.some((bpm) => Math.abs(tempo.bpm / bpm - 1) <= SAME_TEMPO))
      : null;
  const lines = truth.downbeats ?? [];
  const first = downbeats.find((time) => time >= (lines[0] ?? 0) - 0.1) ?? downbeats[0];
  const oneIs =
    tempoIs === 'right' && lines.length > 1 && first !== undefined
      ? verdict(Math.min(...lines.map((time) => Math.abs(time - first))) <= SAME_ONE)
      : null;
  const size = feltSizeOf(truth);
  const meterIs =
    tempoIs !== null && size !== null && measured.meter
      ? verdict(feltBeatsPerBar(measured.meter) === size)
      : null;
  const barsIs =
    tempoIs !== null && truth.bars && measured.loop ? verdict(measured.loop.bars === truth.bars) : null;
  const isDrums = truth.key === null && !truth.keyUnknown && truth.kind === 'loop';
  const keyIs = !key
    ? null
    : truth.key
      ? verdict(pitchClassOf(truth.key.tonic) === pitchClassOf(key.tonic) && truth.key.mode === key.mode)
      : isDrums
        ? 'wrong'
        : null;
  const kindIs = verdict(truth.kind === 'loop' ? kind === 'loop' : kind !== 'oneshot');
  return { tempo: tempoIs, one: oneIs, meter: meterIs, bars: barsIs, key: keyIs, kind: kindIs };
}
