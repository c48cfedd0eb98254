import { choiceRequest } from '@/contract/choices';
import { targetKey, type Choice } from '@/core/timeStretch/proposal';
import { writeChoice } from '@/store/choices';
import { announceSamples } from '@/store/notifications';
import { readSampleFile } from '@/store/samples';
import { once } from './once';
import { notFound } from './userError';

/** Keeps how a sample is brought to a target: rows, packs and renders follow it. Throws UserError where there is no such sample. */
export async function chooseAtTarget(sampleId: string, input: unknown): Promise<void> {
  const { target, level, semitones } = choiceRequest.parse(input);
  await once(async (client) => {
    if (!(await readSampleFile(client, sampleId))) throw notFound();
    await writeChoice(client, sampleId, targetKey(target), { level, semitones } as Choice);
    await announceSamples(client, [sampleId], 'changed');
  });
}
