import { bulkStepsNow, doInBulk } from '@/server/change/bulk';
import { handOf, jsonOf, respond } from '../respond';

/** What can be taken back. */
export const GET = respond(async () => Response.json(await bulkStepsNow()));

/** Does one thing to many samples. */
export const POST = respond(async (request) =>
  Response.json(await doInBulk(await jsonOf(request), handOf(request))),
);
