import { makePack, packsNow } from '@/server/packs';
import { actorOf, jsonOf, respond } from '../respond';

/** The packs, those changed last first. */
export const GET = respond(async () => Response.json(await packsNow()));

/** Makes one, or a copy of one. */
export const POST = respond(async (request) =>
  Response.json(await makePack(await jsonOf(request), actorOf(request)), { status: 201 }),
);
