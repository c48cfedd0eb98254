import { decodeSample, type DecodedAudio } from './decodedAudio';

/** How a stem is heard in the mix. */
export interface StemGain {
  sampleId: string;
  mute: boolean;
  solo: boolean;
}

/** The stems of a set summed in memory that the audio thread reads: changes are heard at once, while it plays. */
export interface StemMix {
  channels: Float32Array[];
  /** Sums anew with these gains. */
  setGains(gains: readonly StemGain[]): void;
}

/** Which stems are heard: those on solo, or all that are not muted. */
export function heardStems(gains: readonly StemGain[]): string[] {
  const solo = gains.some((one) => one.solo);
  return gains.filter((one) => (solo ? one.solo : !one.mute)).map(({ sampleId }) => sampleId);
}

/** Samples that are summed before the next stem's: the ear hears no order. */
const BLOCK = 65_536;

/** Decodes all stems of a set and mixes them. Rejects with a sentence when one cannot be decoded. */
export async function makeStemMix(
  gains: readonly StemGain[],
  playRate: number,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<StemMix> {
  const stems = new Map<string, DecodedAudio>();
  for (const [i, { sampleId }] of gains.entries())
    stems.set(
      sampleId,
      await decodeSample(
        sampleId,
        playRate,
        { onProgress: (share) => onProgress((i + share) / gains.length) },
        signal,
      ),
    );
  let frames = 0;
  for (const { playChannels } of stems.values()) frames = Math.max(frames, playChannels[0].length);
  const shared = typeof SharedArrayBuffer !== 'undefined';
  const channels = [0, 1].map(
    () =>
      new Float32Array(
        (shared ? new SharedArrayBuffer(4 * frames) : new ArrayBuffer(4 * frames)) as ArrayBuffer,
      ),
  );
  const mix: StemMix = {
    channels,
    setGains(now) {
      const heard = heardStems(now).flatMap((id) => stems.get(id) ?? []);
      for (let at = 0; at < frames; at += BLOCK)
        channels.forEach((out, c) => {
          const end = Math.min(frames, at + BLOCK);
          const sum = new Float32Array(end - at);
          for (const { playChannels } of heard) {
            const from = playChannels[Math.min(c, playChannels.length - 1)];
            for (let i = at; i < Math.min(end, from.length); i++) sum[i - at] += from[i];
          }
          // Stems were cut from one mix: their sum is not louder than that was, but nobody promises it.
          for (let i = 0; i < sum.length; i++) out[at + i] = Math.max(-1, Math.min(1, sum[i]));
        });
    },
  };
  mix.setGains(gains);
  return mix;
}
