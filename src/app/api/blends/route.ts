import { blendsNow, makeBlend } from '@/server/blends';
import { handOf, jsonOf, respond } from '../respond';

/** The blends, those changed last first. */
export const GET = respond(async () => Response.json(await blendsNow()));

/** Makes one, or a copy of one. */
export const POST = respond(async (request) =>
  Response.json(await makeBlend(await jsonOf(request), handOf(request)), { status: 201 }),
);
