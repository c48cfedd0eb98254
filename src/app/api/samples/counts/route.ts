import { countIntake } from '@/server/browse';
import { respond } from '../../respond';

/** How many samples each filter of the Intake finds. */
export const GET = respond(async (request) =>
  Response.json(await countIntake(new URL(request.url).searchParams)),
);
