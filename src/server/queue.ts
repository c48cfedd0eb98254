import { z } from 'zod';
import { cancelAllMeasurements, preferSamples, setMeasuringPaused } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { database } from '@/store/database';

export { queueState as measuringQueue } from '@/store/jobs';

/** Ahead of what only arrived, behind what somebody asked for. */
const IN_SIGHT = 5;

/** Lets measuring rest or go on. */
export async function pauseMeasuring(input: unknown): Promise<void> {
  const { paused } = z.object({ paused: z.boolean() }).parse(input);
  await setMeasuringPaused(paused);
}

/** Takes all samples out of the queue; returns how many there were. */
export async function cancelMeasuring(): Promise<number> {
  const samples = await cancelAllMeasurements();
  if (samples.length) await announceSample(database(), { sampleId: samples[0], what: 'changed' });
  return samples.length;
}

/** What is in sight on somebody's screen is measured first. */
export async function preferInSight(input: unknown): Promise<void> {
  const { sampleIds } = z.object({ sampleIds: z.array(z.uuid()).max(200) }).parse(input);
  await preferSamples(sampleIds, IN_SIGHT);
}
