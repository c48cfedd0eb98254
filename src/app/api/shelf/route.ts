import { browseShelf } from '@/server/browse';
import { respond } from '../respond';

export const GET = respond(async (request) =>
  Response.json(await browseShelf(new URL(request.url).searchParams)),
);
