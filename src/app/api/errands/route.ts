import { listErrands } from '@/server/errands';
import { respond } from '../respond';

/** Long ways in: what goes on and what ended lately. */
export const GET = respond(async () => Response.json(await listErrands()));
