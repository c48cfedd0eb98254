import { createHash, type Hash } from 'node:crypto';
import type { Print } from '@/core/alike/print';
import { UndecodableError, type AudioFormat } from '@/core/formats/audioFormat';
import { SNIFF_BYTES, sniffType } from '@/core/formats/sniff';
import type { StoredReading } from '@/core/library/entry';
import { EMPTY_STATE, type SettledState } from '@/core/library/settled';
import { STAGES } from '@/core/measurement/measure';
import { measureStream, type MeasuredFile } from '@/core/measurement/measureStream';
import type { Measurement } from '@/core/measurement/schema';
import type { Reading } from '@/core/readings/reading';
import { packTraces, type Traces } from '@/core/traces/traces';
import { database, transaction } from '@/store/database';
import { finishJob, type ClaimedJob } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { readOriginal, storeOriginal } from '@/store/originalBytes';
import { addReadings, supersedeReadings } from '@/store/readings';
import { addRevision, readRevision, revisionHistory } from '@/store/revisions';
import { readSettings } from '@/store/settings';
import { writeTraces } from '@/store/traces';
import { readSample, recordFault, recordMeasured, type SampleCore } from '@/store/samples';
import { detectorReadings } from './detectorReadings';
import { readEmbedded } from './embeddedTags';
import { findLikenesses } from './likenesses';
import { mp4ToFlac } from './mp4';
import { renewNeed } from './renew';
import { proposeStemSet } from './stemSets';
import { thumbnailOf } from './thumbnail';

/** What was found out about a sample's file, before it is written. */
interface Found {
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
 * Measures a sample for a claimed job and writes everything in one transaction, or writes why it cannot be
 * decoded. `onProgress` gets the stage and the share done.
 */
export async function measureSample(
  job: ClaimedJob,
  runner: number,
  onProgress: (stage: string, progress: number) => void,
): Promise<void> {
  const sample = await readSample(database(), job.sampleId);
  if (!sample) return;
  try {
    const found = await findOut(sample, job, onProgress);
    const { measurement, traces, print } = found;
    await transaction(async (client) => {
      if (!(await finishJob(client, job.jobId, runner))) return;
      await supersedeReadings(client, job.sampleId, ['detector', 'embedded tag']);
      const readings = await addReadings(client, job.sampleId, [
        ...detectorReadings(measurement),
        ...found.readings,
      ]);
      await recordMeasured(client, job.sampleId, {
        kind: measurement.kind,
        format: found.format,
        durationSeconds: measurement.durationSeconds,
        sampleRate: found.sampleRate || null,
        channels: found.channels || null,
        warnings: [...found.warnings, ...measurement.remarks],
        thumbnail: found.thumbnail,
        measurement,
        audioSha256: found.audioSha256,
        listeningId: found.listeningId,
      });
      if (traces) await writeTraces(client, job.sampleId, packTraces(traces));
      if (print) await findLikenesses(client, job.sampleId, print);
      const history = await revisionHistory(client, job.sampleId);
      // A curator's choice is never overwritten: later measurements only add readings.
      if (history.every(({ madeBy }) => madeBy === 'measurement')) {
        const current = sample.currentSequence;
        const before =
          current === null ? EMPTY_STATE : (await readRevision(client, job.sampleId, current))!.state;
        const state = settledFrom(measurement, readings, before);
        await addRevision(
          client,
          job.sampleId,
          current,
          state,
          current === null ? 'measured' : 'measured again',
          'measurement',
        );
      }
      await renewNeed(client, job.sampleId);
      if (print) await proposeStemSet(client, job.sampleId);
      await announceSample(client, { sampleId: job.sampleId, what: 'measured' });
    });
  } catch (error) {
    if (!(error instanceof UndecodableError)) throw error;
    await transaction(async (client) => {
      if (!(await finishJob(client, job.jobId, runner))) return;
      await recordFault(client, job.sampleId, error.message);
      await renewNeed(client, job.sampleId);
      await announceSample(client, { sampleId: job.sampleId, what: 'measured' });
    });
  }
}

/** Reads the sample's file from end to end and measures it. Throws UndecodableError with a sentence for the user. */
async function findOut(
  sample: SampleCore,
  job: ClaimedJob,
  onProgress: (stage: string, progress: number) => void,
): Promise<Found> {
  let read = 0;
  const hash = createHash('sha256');
  async function* bytes() {
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
      throw new UndecodableError('The stored bytes are no longer those that arrived: their SHA-256 differs.');
  };
  const sniffed = sniffType(await firstBytes(sample));
  const settings = await readSettings(database());
  const range = job.options.range ?? settings.tempoRange ?? undefined;
  const meter = job.options.meter ?? undefined;
  const pcm = pcmHash();
  const options = { range, meter, traced: true, onPcm: pcm.push };
  const onStage = (stage: keyof typeof STAGES) => onProgress(stage, STAGES[stage]);
  let listeningId: number | null = null;
  let measured: MeasuredFile;
  if (sniffed.format === 'mp4') {
    // What browsers hear is what is measured: the copy is kept first.
    const copy = await storeOriginal(mp4ToFlac(bytes()), Infinity);
    listeningId = copy.originalId;
    checkBytes();
    measured = await measureStream(readOriginal(copy.originalId, 0, copy.byteLength), options, onStage);
  } else {
    measured = await measureStream(bytes(), options, onStage);
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

async function firstBytes({ originalId, byteLength }: SampleCore): Promise<Uint8Array> {
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

/** The detector's first choices as the first settled state. */
function settledFrom(measured: Measurement, readings: StoredReading[], before: SettledState): SettledState {
  const first = (property: StoredReading['property']) =>
    readings.find(
      (reading) => reading.property === property && reading.source === 'detector' && reading.rank === 0,
    );
  const chosen = Object.fromEntries(
    (['tempo', 'one', 'meter', 'key', 'tuning'] as const).flatMap((property) => {
      const reading = first(property);
      return reading ? [[property, reading.readingId]] : [];
    }),
  );
  const key = first('key');
  const { tempo, theOne, meter } = measured;
  return {
    ...before,
    grid:
      tempo && theOne !== null && meter
        ? {
            tempoBpm: tempo.bpm,
            one: theOne,
            meter: { beatsPerBar: meter.beatsPerBar, beatUnit: meter.beatUnit },
            movingBeats: tempo.steady || measured.beats.length < 2 ? null : measured.beats,
          }
        : null,
    key: key?.property === 'key' ? key.value : null,
    tuningCents: measured.tuningCents === null ? null : Math.max(-50, Math.min(50, measured.tuningCents)),
    chosen,
  };
}
