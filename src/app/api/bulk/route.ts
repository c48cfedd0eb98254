import { bulkStepsNow, doInBulk } from '@/server/change/bulk';
import { actorOf, jsonOf, respond } from '../respond';

/** What can be undone, and redone, on a screen. */
export const GET = respond(async (request) =>
  Response.json(await bulkStepsNow(new URL(request.url).searchParams.get('screen'))),
);

/** Does one thing to many samples. */
export const POST = respond(async (request) =>
  Response.json(await doInBulk(await jsonOf(request), actorOf(request))),
);
