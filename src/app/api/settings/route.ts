import { changeSettings, settingsNow } from '@/server/settings';
import { jsonOf, respond } from '../respond';

export const GET = respond(async () => Response.json(await settingsNow()));

export const PUT = respond(async (request) => Response.json(await changeSettings(await jsonOf(request))));
