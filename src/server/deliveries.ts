import { z } from 'zod';
import {
  deliveryCatalogue,
  deliveryMood,
  type DeliveryCatalogue,
  type DeliveryMood,
} from '@/contract/deliveries';
import type { BegunTask } from '@/contract/places';
import { database } from '@/store/database';
import { makeTask } from '@/store/longTasks';
import { UserError } from './userError';

/** Where the delivery service answers; the simulated one ships with Grento and tells its address at the start. */
function serviceUrl(path: string): URL {
  const address = process.env.GRENTO_DELIVERY;
  if (!address) throw new UserError('No delivery service is configured.', 404);
  return new URL(path, address);
}

async function ask(path: string, init?: RequestInit): Promise<Response> {
  const response = await fetch(serviceUrl(path), init).catch((error: Error) => {
    throw new UserError(`The delivery service does not answer (${error.message}).`, 400);
  });
  if (!response.ok)
    throw new UserError(
      `The delivery service answered ${response.status}.`,
      response.status === 404 ? 404 : 400,
    );
  return response;
}

/** What the delivery service offers. Throws UserError when it does not answer. */
export async function deliveryOffers(): Promise<DeliveryCatalogue> {
  return deliveryCatalogue.parse(await (await ask('/catalogue')).json());
}

export async function moodOfDelivery(): Promise<DeliveryMood> {
  return deliveryMood.parse(await (await ask('/mood')).json());
}

/** Makes the simulated service slow or unreliable. */
export async function setMoodOfDelivery(input: unknown): Promise<DeliveryMood> {
  const mood = deliveryMood.parse(input);
  await ask('/mood', { method: 'PUT', body: JSON.stringify(mood) });
  return mood;
}

const fetchRequest = z.object({
  packId: z.string().min(1).max(200),
  /** null: all of them. */
  paths: z.array(z.string()).min(1).nullable().default(null),
});

/** Fetches a pack, or some of its files, by a task. */
export async function fetchPack(input: unknown): Promise<BegunTask> {
  const { packId, paths } = fetchRequest.parse(input);
  const { packs, sender } = await deliveryOffers();
  const pack = packs.find((one) => one.packId === packId);
  if (!pack) throw new UserError('The delivery service no longer offers this pack.', 404);
  const files = pack.files.filter(({ path }) => !paths || paths.includes(path));
  if (files.length === 0) throw new UserError('None of these files is in the pack.', 422);
  const taskId = await makeTask(
    database(),
    'fetch',
    `“${pack.title}” from ${sender}`,
    { packId },
    files.map(({ path, byteLength }) => ({
      name: path.split('/').pop()!,
      folder: `Deliveries/${pack.title}`,
      path: `${packId}/${path}`,
      byteLength,
      // The service gives no times; a pack's files do not change.
      modifiedMs: 0,
    })),
  );
  return { taskId, files: files.length };
}

/** The bytes of a file of the service from `from` on. Throws UserError when it refuses, Error when the line breaks. */
export async function openDelivery(path: string, from: number): Promise<AsyncIterable<Uint8Array>> {
  const way = path.split('/').map(encodeURIComponent).join('/');
  const response = await ask(`/files/${way}`, { headers: from > 0 ? { range: `bytes=${from}-` } : {} });
  if (from > 0 && response.status !== 206)
    throw new UserError('The delivery service cannot resume a transfer.', 422);
  if (!response.body) throw new UserError('The delivery service sent nothing.', 400);
  return response.body as unknown as AsyncIterable<Uint8Array>;
}
