import { browseIntake } from '@/server/browse';
import { respond } from '../respond';

export const GET = respond(async (request) =>
  Response.json(await browseIntake(new URL(request.url).searchParams)),
);
