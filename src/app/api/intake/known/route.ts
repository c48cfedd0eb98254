import { knownOf } from '@/server/takeIn';
import { jsonOf, respond } from '../../respond';

/** What is here of files that are about to be sent. */
export const POST = respond(async (request) => Response.json(await knownOf(await jsonOf(request))));
