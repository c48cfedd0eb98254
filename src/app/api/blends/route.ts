import { blendsNow, makeBlend } from '@/server/blends';
import { actorOf, jsonOf, respond } from '../respond';

/** The blends, those changed last first. */
export const GET = respond(async () => Response.json(await blendsNow()));

/** Makes one, or a copy of one. */
export const POST = respond(async (request) =>
  Response.json(await makeBlend(await jsonOf(request), actorOf(request)), { status: 201 }),
);
