import { curatorNamed, curatorsNow } from '@/server/curators';
import { jsonOf, respond } from '../respond';

export const GET = respond(async () => Response.json(await curatorsNow()));

/** The curator of a name, made when nobody is known by it. */
export const POST = respond(async (request) => Response.json(await curatorNamed(await jsonOf(request))));
