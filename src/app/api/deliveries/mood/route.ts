import { moodOfDelivery, setMoodOfDelivery } from '@/server/deliveries';
import { jsonOf, respond } from '../../respond';

/** How slow and unreliable the simulated service is. */
export const GET = respond(async () => Response.json(await moodOfDelivery()));

export const PUT = respond(async (request) => Response.json(await setMoodOfDelivery(await jsonOf(request))));
