import { countShelf } from '@/server/browse';
import { respond } from '../../respond';

/** How many of what a query of the Shelf finds have each tag and kind. */
export const GET = respond(async (request) =>
  Response.json(await countShelf(new URL(request.url).searchParams)),
);
