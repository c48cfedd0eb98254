import { cancelMeasuring, pauseMeasuring, preferInSight } from '@/server/tasks';
import { jsonOf, respond } from '../../respond';

/** Lets measuring rest or go on. */
export const PUT = respond(async (request) => {
  await pauseMeasuring(await jsonOf(request));
  return Response.json({});
});

/** What is in sight goes first. */
export const POST = respond(async (request) => {
  await preferInSight(await jsonOf(request));
  return Response.json({});
});

/** Takes everything that is to be measured out of the queue. */
export const DELETE = respond(async () => Response.json({ cancelled: await cancelMeasuring() }));
