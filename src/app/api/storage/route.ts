import { storageNow } from '@/server/storage';
import { respond } from '../respond';

/** What the library takes up, what is free, and the newest backup. */
export const GET = respond(async () => Response.json(await storageNow()));
