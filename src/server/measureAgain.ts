import { measureRequest } from '@/core/library/entry';
import { transaction } from '@/store/database';
import { cancelMeasurement, enqueueMeasurement } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { readSample } from '@/store/samples';
import { notFound } from './userError';

/** Puts a sample into the queue again, ahead of new arrivals: somebody waits for it. */
export async function measureAgain(sampleId: string, input: unknown): Promise<void> {
  const options = measureRequest.parse(input);
  await transaction(async (client) => {
    if (!(await readSample(client, sampleId))) throw notFound();
    await enqueueMeasurement(client, sampleId, options, 10);
    await announceSample(client, { sampleId, what: 'changed' });
  });
}

/** Takes a sample out of the queue; what was measured before stays. */
export async function stopMeasuring(sampleId: string): Promise<void> {
  await cancelMeasurement(sampleId);
}
