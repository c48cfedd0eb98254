import { browseTargets } from '@/server/browse';
import { respond } from '../../respond';

/** All samples that a query of the Intake finds, each with its present revision. */
export const GET = respond(async (request) =>
  Response.json(await browseTargets(new URL(request.url).searchParams)),
);
