import { previewNames } from '@/server/names';
import { jsonOf, respond } from '../respond';

/** What samples would be called; nothing is changed. */
export const POST = respond(async (request) => Response.json(await previewNames(await jsonOf(request))));
