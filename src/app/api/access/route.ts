import { accessNow, giveAccess } from '@/server/access/tokens';
import { jsonOf, respond } from '../respond';

export const dynamic = 'force-dynamic';

export const GET = respond(async () => Response.json(await accessNow()));

/** Makes a token for a script. */
export const POST = respond(async (request) =>
  Response.json(await giveAccess(await jsonOf(request)), { status: 201 }),
);
