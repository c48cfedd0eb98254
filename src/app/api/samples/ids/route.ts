import { browseIds } from '@/server/browse';
import { respond } from '../../respond';

/** The numbers of all samples that a query of the Intake finds. */
export const GET = respond(async (request) =>
  Response.json(await browseIds(new URL(request.url).searchParams)),
);
