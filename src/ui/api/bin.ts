import { binDeleted, binState, type BinDeleted } from '@/contract/bin';
import { call, json } from './request';

export const fetchBin = (signal?: AbortSignal) => call(binState, '/api/bin', { signal });

/** Deletes samples that lie in the bin for good (null: all), however many requests that takes; `onDone` hears how many are gone. */
export async function deleteForGood(
  sampleIds: readonly string[] | null,
  onDone: (count: number) => void,
): Promise<Omit<BinDeleted, 'left'>> {
  const all = { samples: 0, bytes: 0 };
  for (let left = 1; left > 0;) {
    const said = await call(binDeleted, '/api/bin', json('POST', { sampleIds }));
    all.samples += said.samples;
    all.bytes += said.bytes;
    left = said.left;
    onDone(all.samples);
  }
  return all;
}
