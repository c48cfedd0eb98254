import { browseShelfTargets } from '@/server/browse';
import { respond } from '../../respond';

/** All samples that a query of the Shelf finds, each with its present revision. */
export const GET = respond(async (request) =>
  Response.json(await browseShelfTargets(new URL(request.url).searchParams)),
);
