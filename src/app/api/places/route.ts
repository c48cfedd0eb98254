import { keepPlace, listPlaces } from '@/server/places';
import { jsonOf, respond } from '../respond';

export const GET = respond(async () => Response.json(await listPlaces()));

/** Keeps a folder of the server. */
export const POST = respond(async (request) =>
  Response.json(await keepPlace(await jsonOf(request)), { status: 201 }),
);
