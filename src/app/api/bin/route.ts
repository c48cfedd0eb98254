import { binNow, emptyBin } from '@/server/bin';
import { jsonOf, respond } from '../respond';

/** What lies in the bin. */
export const GET = respond(async () => Response.json(await binNow()));

/** Deletes what lies in it for good. */
export const POST = respond(async (request) => Response.json(await emptyBin(await jsonOf(request))));
