import { cancelMeasuring, measuringQueue, pauseMeasuring, preferInSight } from '@/server/queue';
import { jsonOf, respond } from '../respond';

/** How far measuring has come. */
export const GET = respond(async () => Response.json(await measuringQueue()));

/** Pause or go on. */
export const PUT = respond(async (request) => {
  await pauseMeasuring(await jsonOf(request));
  return Response.json(await measuringQueue());
});

/** What is in sight goes first. */
export const POST = respond(async (request) => {
  await preferInSight(await jsonOf(request));
  return Response.json({});
});

/** Takes everything out of the queue. */
export const DELETE = respond(async () => Response.json({ cancelled: await cancelMeasuring() }));
