import { AS_RECORDED } from '@/core/playing/voice';
import type { Sounding } from './voices';

/** How a stem is to be heard among the others of its set. */
export interface StemGain {
  mute: boolean;
  solo: boolean;
}

/** How all stems of a set sound: those on solo, or all that are not muted. */
export function soundings(
  members: readonly Pick<Sounding, 'sampleId' | 'durationSeconds'>[],
  gains: Readonly<Record<string, StemGain>>,
): Sounding[] {
  const solo = members.some(({ sampleId }) => gains[sampleId]?.solo);
  return members.map(({ sampleId, durationSeconds }) => {
    const gain = gains[sampleId];
    const muted = solo ? !gain?.solo : Boolean(gain?.mute);
    return { sampleId, durationSeconds, hearing: { ...AS_RECORDED, muted } };
  });
}
