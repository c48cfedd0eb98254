import type { TakenIn } from '@/contract/arrivals';

/** One file on its way in. */
export interface Upload {
  id: number;
  name: string;
  folder: string;
  byteLength: number;
  sent: number;
  state: 'waiting' | 'sending' | 'done' | 'failed' | 'cancelled';
  message: string | null;
  result: TakenIn | null;
}

/** All files of this visit in numbers. */
interface UploadTotals {
  files: number;
  ended: number;
  failed: number;
  /** Files that were here before and were not sent. */
  spared: number;
  /** Files that lie in the bin and were not sent either. */
  binned: number;
  bytes: number;
  sent: number;
  bytesPerSecond: number | null;
}

export interface UploadsState {
  totals: UploadTotals;
  /** Those that have something to say: on their way, refused, or other than new; the first of them. */
  telling: readonly Upload[];
  open: number;
  /** Samples that came of them and were not here before, in the order of the files. */
  arrived: readonly Arrived[];
}

export interface Arrived {
  sampleId: string;
  name: string;
}

const MOST_TOLD = 200;
export const NONE: UploadsState = {
  totals: { files: 0, ended: 0, failed: 0, spared: 0, binned: 0, bytes: 0, sent: 0, bytesPerSecond: null },
  telling: [],
  open: 0,
  arrived: [],
};

/** All files of this visit in numbers, after so many seconds of sending; what has something to say first. */
export function summaryOf(all: readonly Upload[], bytesPerSecond: number, seconds: number): UploadsState {
  const totals = { ...NONE.totals };
  const telling: Upload[] = [];
  const arrived: Arrived[] = [];
  let open = 0;
  for (const upload of all) {
    const { state, result } = upload;
    totals.files++;
    totals.bytes += upload.byteLength;
    totals.sent += upload.sent;
    if (state === 'waiting' || state === 'sending') open++;
    else totals.ended++;
    if (state === 'failed') totals.failed++;
    if (result?.outcome === 'already here') totals.spared++;
    if (result?.outcome === 'in the bin') totals.binned++;
    const isNew = result?.outcome === 'new' || result?.outcome === 'duplicate';
    if (isNew && result.sampleId) arrived.push({ sampleId: result.sampleId, name: upload.name });
    const says =
      state === 'sending' ||
      state === 'failed' ||
      (state === 'waiting' && upload.message !== null) ||
      result?.outcome === 'duplicate' ||
      Boolean(result?.inBin) ||
      result?.outcome === 'unpacking';
    if (says && telling.length < MOST_TOLD) telling.push(upload);
  }
  // What was refused is read first.
  telling.sort((a, b) => Number(b.state === 'failed') - Number(a.state === 'failed') || a.id - b.id);
  if (open > 0 && seconds > 1) totals.bytesPerSecond = bytesPerSecond;
  return { totals, telling, open, arrived };
}
