import { askArchive } from '@/server/sampleArchive';
import { jsonOf, respond } from '../respond';

/** Asks for an archive of samples; the answer says where it is fetched. */
export const POST = respond(async (request) =>
  Response.json(askArchive(await jsonOf(request)), { status: 201 }),
);
