import { keepSearch, searchesNow } from '@/server/searches';
import { jsonOf, respond } from '../respond';

/** The questions to the Shelf that are kept. */
export const GET = respond(async () => Response.json(await searchesNow()));

/** Keeps one; under a name that is there already it takes the other's place. */
export const POST = respond(async (request) => Response.json(await keepSearch(await jsonOf(request))));
