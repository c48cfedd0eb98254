import { makeAtTarget } from '@/server/renders';
import { actorOf, jsonOf, respond } from '../../respond';

/** Has samples made at a target. */
export const POST = respond(async (request) =>
  Response.json(await makeAtTarget(await jsonOf(request), actorOf(request)), { status: 202 }),
);
