import { browseOverview } from '@/server/browse';
import { respond } from '../../respond';

/** What a query of the Shelf finds, counted by tempo, key, kind and part; and the library over time. */
export const GET = respond(async (request) =>
  Response.json(await browseOverview(new URL(request.url).searchParams)),
);
