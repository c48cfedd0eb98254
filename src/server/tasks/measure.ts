import { refusalWords } from '@/words/refusals';
import { createHash, type Hash } from 'node:crypto';
import type pg from 'pg';
import type { Print } from '@/core/alike/print';
import { UndecodableError, type AudioFormat } from '@/core/formats/audioFormat';
import { LONGEST_SECONDS, tooLong } from '@/core/formats/decode';
import { flacEnd, flacInfo, INFO_BYTES } from '@/core/formats/flacFrames';
import { SNIFF_BYTES, sniffType } from '@/core/formats/sniff';
import { RefusedChange } from '@/library/change/refusal';
import type { OwnFile } from '@/library/packs/own';
import type { MeasureRequest } from '@/contract/measuring';
import { STAGES } from '@/core/measurement/measure';
import { measureStream, type MeasuredFile } from '@/core/measurement/measureStream';
import type { Measurement } from '@/core/measurement/schema';
import type { Reading } from '@/core/readings/reading';
import { libraryTempi } from '@/core/rhythm/libraryTempi';
import { packTraces, type Traces } from '@/core/traces/traces';
import { database, transaction } from '@/store/database';
import { readOriginal, storeOriginal } from '@/store/originalBytes';
import { takeNote } from '@/store/packNotes';
import { readSettings } from '@/store/settings';
import { membersOf } from '@/store/stemSets';
import { endTask, type TakenTask } from '@/store/tasks';
import { writeTraces } from '@/store/traces';
import {
  readSampleFile,
  addWarning,
  recordAudioHash,
  recordCompared,
  recordFault,
  recordMeasured,
  type SampleFile,
} from '@/store/samples';
import { writePrint } from '@/store/likenesses';
import { holdTask } from '@/store/longTasks';
import { reunite } from '../unpacked';
import { ANYBODY, changeInside } from '../change';
import { detectorReadings } from '../detectorReadings';
import { readEmbedded } from '../embeddedTags';
import { findLikenesses } from '../likenesses';
import { provedTempi } from '../provedTempi';
import { log } from '../log';
import { md5 } from '../md5';
import { openMp4 } from '../mp4';
import { proposeStemSet } from '../stemSets';
import { thumbnailOf } from '../thumbnail';

/** What was found out about a sample's file, before it is written. */
export interface Found {
  format: AudioFormat;
  sampleRate: number;
  channels: number;
  warnings: string[];
  measurement: Measurement;
  readings: Reading[];
  thumbnail: Int8Array;
  traces: Traces | null;
  print: Print | null;
  audioSha256: string | null;
  listeningId: number | null;
}

/**
 * Measures a sample as a task says and writes everything in one transaction, or writes why it cannot be decoded.
 * Nothing is written when the task is no longer theirs who hold its lease. `onProgress` gets the stage and the share done.
 */
export async function measure(
  task: TakenTask<'measure'>,
  onProgress: (stage: string, progress: number) => void,
): Promise<void> {
  const sampleId = task.sampleId!;
  const sample = await readSampleFile(database(), sampleId);
  if (!sample) return;
  const found = await findOut(sample, task.payload, onProgress).catch((error: Error) => {
    if (error instanceof UndecodableError) return error;
    throw error;
  });
  if (task.payload.isComparison) return compared(task, found);
  // First what it is known again by, for all to see: of two that are measured at once, one finds the other.
  if (!(found instanceof UndecodableError))
    await transaction(async (client) => {
      if (await holdTask(client, task)) await recordIdentity(client, sampleId, found);
    });
  await transaction(async (client) => {
    if (!(await endTask(client, task, null))) return;
    if (found instanceof UndecodableError) {
      await recordFault(client, sampleId, found.message);
      await changeInside(client, { do: 'renew' }, [sampleId], null);
      return;
    }
    const { measurement, print } = found;
    await recordFound(client, sampleId, found);
    if (print) await findLikenesses(client, sampleId, print);
    const set = print ? await proposeStemSet(client, sampleId) : null;
    const { setId = null, parted = [] } = set ?? {};
    const readings = [...detectorReadings(measurement), ...found.readings];
    await changeInside(
      client,
      { do: 'measured', sampleId, measurement, readings, setId, parted },
      [sampleId, ...(await membersOf(client, parted))],
      null,
    );
    const own = await takeNote(client, sample.sha256);
    if (own) {
      await settleUnpacked(client, sampleId, own);
      await reunite(client, sampleId, own);
    }
  });
}

/** Keeps what today's engine measures otherwise beside what is settled; what it cannot read stays as it was measured. */
async function compared(task: TakenTask<'measure'>, found: Found | UndecodableError): Promise<void> {
  const sampleId = task.sampleId!;
  await transaction(async (client) => {
    if (!(await endTask(client, task, null))) return;
    await recordCompared(client, sampleId);
    const readings = found instanceof UndecodableError ? [] : detectorReadings(found.measurement);
    await changeInside(client, { do: 'compared', sampleId, readings }, [sampleId], null);
  });
}

/** Writes what like samples are found by: its decoded audio's hash and its print. */
async function recordIdentity(
  client: pg.PoolClient,
  sampleId: string,
  { audioSha256, print }: Found,
): Promise<void> {
  await recordAudioHash(client, sampleId, audioSha256);
  if (print) await writePrint(client, sampleId, print.words, print.chosen);
}

/** Settles what a pack knows of a sample; what cannot be (another hand's numbers) is left as it was measured, and told. */
async function settleUnpacked(client: pg.PoolClient, sampleId: string, own: OwnFile): Promise<void> {
  try {
    await changeInside(client, { do: 'unpacked', sampleId, own }, [sampleId], ANYBODY);
  } catch (error) {
    if (!(error instanceof RefusedChange)) throw error;
    log.warn({ event: 'note of a pack refused', sample: sampleId, message: error.message });
    const words = `The pack’s settings for it are invalid and were ignored: ${refusalWords(error.refusal)}`;
    await addWarning(client, sampleId, words);
    await changeInside(client, { do: 'renew' }, [sampleId], null);
  }
}

/** Writes what was found of a file, with what is drawn of it. */
export async function recordFound(client: pg.PoolClient, sampleId: string, found: Found): Promise<void> {
  const { measurement, traces } = found;
  await recordMeasured(client, sampleId, {
    kind: measurement.kind,
    format: found.format,
    durationSeconds: measurement.durationSeconds,
    sampleRate: found.sampleRate || null,
    channels: found.channels || null,
    warnings: found.warnings,
    thumbnail: found.thumbnail,
    measurement,
    audioSha256: found.audioSha256,
    listeningId: found.listeningId,
  });
  if (traces) await writeTraces(client, sampleId, packTraces(traces));
}

/** Reads a file from end to end and measures it. Throws UndecodableError with a sentence for the user. */
export async function findOut(
  sample: Pick<SampleFile, 'originalId' | 'byteLength' | 'sha256'>,
  request: MeasureRequest,
  onProgress: (stage: string, progress: number) => void,
): Promise<Found> {
  let read = 0;
  let hash = createHash('sha256');
  async function* bytes() {
    // Hardly any file is opened twice; then it is read from its beginning once more.
    read = 0;
    hash = createHash('sha256');
    for await (const part of readOriginal(sample.originalId, 0, sample.byteLength)) {
      hash.update(part);
      read += part.length;
      yield part;
      onProgress('listening', (STAGES.rhythm * read) / sample.byteLength);
    }
  }
  // The decoder may stop before the last byte; then the rest was not read and proves nothing.
  const checkBytes = () => {
    if (read === sample.byteLength && hash.digest('hex') !== sample.sha256)
      throw new UndecodableError('The stored file is damaged: its SHA-256 differs.');
  };
  const first = await firstBytes(sample);
  const sniffed = sniffType(first);
  if (sniffed.format === 'flac') await guardLength(sample, first);
  const settings = await readSettings(database());
  const range = request.range ?? settings.tempoRange ?? undefined;
  const meter = request.meter ?? undefined;
  const pcm = pcmHash();
  const options = {
    range,
    meter,
    expected: request.expected ? { tempo: request.expected } : undefined,
    library: settings.learnsTempi ? libraryTempi(await provedTempi()) : undefined,
    traced: true,
    onPcm: pcm.push,
    byteLength: sample.byteLength,
    md5,
  };
  const onStage = (stage: keyof typeof STAGES) => onProgress(stage, STAGES[stage]);
  let listeningId: number | null = null;
  let measured: MeasuredFile;
  if (sniffed.format === 'mp4') {
    // What browsers hear is what is measured: the copy is kept first.
    const sound = openMp4(bytes());
    const copy = await storeOriginal(sound.flac, Infinity);
    listeningId = copy.originalId;
    checkBytes();
    measured = await measureStream(
      () => readOriginal(copy.originalId, 0, copy.byteLength),
      { ...options, claimed: sound.claimed },
      onStage,
    );
    const { audio } = measured;
    audio.warnings.push(...sound.words(audio.frames / audio.sampleRate));
  } else {
    measured = await measureStream(bytes, options, onStage);
    checkBytes();
  }
  const { audio, traces, print, measurement } = measured;
  const format = sniffed.format === 'mp4' ? 'mp4' : audio.format;
  const readings = await readEmbedded(
    (from, to) => readOriginal(sample.originalId, from, to),
    format,
    sample.byteLength,
    audio.sampleRate,
  );
  return {
    format,
    // A performance has neither before it is played.
    sampleRate: format === 'midi' ? 0 : audio.sampleRate,
    channels: format === 'midi' ? 0 : audio.channels,
    warnings: audio.warnings,
    measurement,
    readings,
    thumbnail: thumbnailOf(traces!.peaks),
    traces,
    print,
    audioSha256: pcm.digest(),
    listeningId,
  };
}

/** Bytes in which two frames of FLAC stand, however long they are. */
const TAIL_BYTES = 256 * 1024;

/** Refuses FLAC that does not say at its beginning that it is too long, but shows it at its end. */
async function guardLength(
  { originalId, byteLength }: Pick<SampleFile, 'originalId' | 'byteLength'>,
  first: Uint8Array,
): Promise<void> {
  // Behind “fLaC” stands the description, with the four bytes of its head.
  if (Buffer.from(first.subarray(0, 4)).toString('latin1') !== 'fLaC' || first.length < 8 + INFO_BYTES)
    return;
  const info = flacInfo(first.subarray(8, 8 + INFO_BYTES));
  if (info.frames !== null) return;
  const tail: Uint8Array[] = [];
  for await (const part of readOriginal(originalId, Math.max(0, byteLength - TAIL_BYTES), byteLength))
    tail.push(part);
  const frames = flacEnd(Buffer.concat(tail), info);
  if (frames !== null && frames > LONGEST_SECONDS * info.sampleRate) throw tooLong(frames / info.sampleRate);
}

async function firstBytes({
  originalId,
  byteLength,
}: Pick<SampleFile, 'originalId' | 'byteLength'>): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  const wanted = Math.min(SNIFF_BYTES, byteLength);
  for await (const part of readOriginal(originalId, 0, wanted)) parts.push(part);
  return Buffer.concat(parts);
}

/**
 * A hash of decoded audio that is the same for all containers and block lengths: each channel has its own, and
 * they are put together at the end.
 */
function pcmHash() {
  let rate = 0;
  let channels: Hash[] = [];
  return {
    push(block: readonly Float32Array[], sampleRate: number) {
      if (channels.length === 0) channels = block.map(() => createHash('sha256'));
      rate = sampleRate;
      block.forEach(({ buffer, byteOffset, byteLength }, c) =>
        channels[c].update(new Uint8Array(buffer, byteOffset, byteLength)),
      );
    },
    digest: () =>
      createHash('sha256')
        .update([rate, ...channels.map((hash) => hash.digest('hex'))].join(' '))
        .digest('hex'),
  };
}
