import { makeRenders } from '@/server/renders';
import { actorOf, jsonOf, respond } from '../respond';

/** Has derived samples made as their recipes say. */
export const POST = respond(async (request) =>
  Response.json(await makeRenders(await jsonOf(request), actorOf(request)), { status: 202 }),
);
