import { keepPlace, listPlaces } from '@/server/places';
import { allowedRoots } from '@/server/roots';
import { jsonOf, respond } from '../respond';

/** All folders, and below which folders one may be kept. */
export const GET = respond(async () => Response.json({ places: await listPlaces(), roots: allowedRoots() }));

/** Keeps a folder of the server. */
export const POST = respond(async (request) =>
  Response.json(await keepPlace(await jsonOf(request)), { status: 201 }),
);
