import { compareAll, engineState, stopComparing } from '@/server/engine';
import { respond } from '../../respond';

/** How many samples are still to be compared, and, while there are none, how many an older engine measured. */
export const GET = respond(async () => Response.json(await engineState()));

/** Has today's engine listen to them; what it measures otherwise stands beside what is settled. */
export const POST = respond(async () => Response.json({ samples: await compareAll() }));

/** Takes back what has not begun. */
export const DELETE = respond(async () => Response.json({ samples: await stopComparing() }));
