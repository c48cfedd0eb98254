import { createHash } from 'node:crypto';
import { UndecodableError } from '@/core/formats/audioFormat';
import type { StoredReading } from '@/core/library/entry';
import { EMPTY_STATE, type SettledState } from '@/core/library/settled';
import { STAGES } from '@/core/measurement/measure';
import { measureStream } from '@/core/measurement/measureStream';
import type { Measurement } from '@/core/measurement/schema';
import { reasonsForALook } from '@/core/readings/needsALook';
import { peakColumns } from '@/core/signal/peaks';
import { packTraces } from '@/core/traces/traces';
import { database, transaction } from '@/store/database';
import { finishJob, type ClaimedJob } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { readOriginal } from '@/store/originalBytes';
import { addReadings, readingsOf, supersedeReadings } from '@/store/readings';
import { addRevision, readRevision, revisionHistory } from '@/store/revisions';
import { readSettings } from '@/store/settings';
import { writeTraces } from '@/store/traces';
import { readSample, recordFault, recordMeasured, samplesOfOriginal } from '@/store/samples';
import { detectorReadings } from './detectorReadings';
import { readEmbeddedTags } from './embeddedTags';

const THUMBNAIL_COLUMNS = 160;

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
  let read = 0;
  const hash = createHash('sha256');
  async function* bytes() {
    for await (const part of readOriginal(sample!.originalId, 0, sample!.byteLength)) {
      hash.update(part);
      read += part.length;
      yield part;
      onProgress('listening', (STAGES.rhythm * read) / sample!.byteLength);
    }
  }
  try {
    const range = job.options.range ?? (await readSettings(database())).tempoRange ?? undefined;
    const { audio, traces, measurement } = await measureStream(bytes(), { range, traced: true }, (stage) =>
      onProgress(stage, STAGES[stage]),
    );
    // The decoder may stop before the last byte; then the rest was not read and proves nothing.
    if (read === sample.byteLength && hash.digest('hex') !== sample.sha256) {
      throw new UndecodableError('The stored bytes are no longer those that arrived: their SHA-256 differs.');
    }
    const tags = await readEmbeddedTags(
      readOriginal(sample.originalId, 0, sample.byteLength),
      audio.format,
      sample.byteLength,
    );
    await transaction(async (client) => {
      if (!(await finishJob(client, job.jobId, runner))) return;
      await supersedeReadings(client, job.sampleId, ['detector', 'embedded tag']);
      const found = await addReadings(client, job.sampleId, [...detectorReadings(measurement), ...tags]);
      const [first] = await samplesOfOriginal(client, sample.originalId);
      const all = (await readingsOf(client, job.sampleId)).filter((reading) => !reading.superseded);
      const needsLook = reasonsForALook(measurement, all);
      if (first && first.sampleId !== job.sampleId) needsLook.push(`same bytes as “${first.name}”`);
      if (audio.warnings.length) needsLook.push('decoded with warnings');
      await recordMeasured(client, job.sampleId, {
        kind: measurement.kind,
        format: audio.format,
        durationSeconds: audio.frames / audio.sampleRate,
        sampleRate: audio.sampleRate,
        channels: audio.channels,
        warnings: [...audio.warnings, ...measurement.remarks],
        thumbnail: thumbnailOf(traces!.peaks),
        measurement,
        needsLook,
      });
      await writeTraces(client, job.sampleId, packTraces(traces!));
      const history = await revisionHistory(client, job.sampleId);
      // A curator's choice is never overwritten: later measurements only add readings.
      if (history.every(({ madeBy }) => madeBy === 'measurement')) {
        const current = sample.currentSequence;
        const before =
          current === null ? EMPTY_STATE : (await readRevision(client, job.sampleId, current))!.state;
        const state = settledFrom(measurement, found, before);
        await addRevision(
          client,
          job.sampleId,
          current,
          state,
          current === null ? 'measured' : 'measured again',
          'measurement',
        );
      }
      await announceSample(client, { sampleId: job.sampleId, what: 'measured' });
    });
  } catch (error) {
    if (!(error instanceof UndecodableError)) throw error;
    await transaction(async (client) => {
      if (!(await finishJob(client, job.jobId, runner))) return;
      await recordFault(client, job.sampleId, error.message);
      await announceSample(client, { sampleId: job.sampleId, what: 'measured' });
    });
  }
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

/** Extremes as signed bytes, scaled so that the loudest place fills the height. */
function thumbnailOf(peaks: Parameters<typeof peakColumns>[0]): Int8Array {
  const columns = peakColumns(peaks, 0, Math.max(1e-3, peaks.frames / peaks.sampleRate), THUMBNAIL_COLUMNS);
  let loudest = 1e-6;
  for (const value of columns) if (Math.abs(value) > loudest) loudest = Math.abs(value);
  return Int8Array.from(columns, (value) => Math.round(((Number.isNaN(value) ? 0 : value) / loudest) * 127));
}
