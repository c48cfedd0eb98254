import { tasksNow } from '@/server/tasks';
import { respond } from '../respond';

/** What goes on: measuring as a whole, and long tasks one by one. */
export const GET = respond(async () => Response.json(await tasksNow()));
