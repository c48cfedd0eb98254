import { errorsLeft } from '@/server/errorsLeft';
import { respond } from '../../respond';

/** How many measured tempi and keys are expected to be wrong, of all samples or (`of=saved`) of those on the Shelf. */
export const GET = respond(async (request) =>
  Response.json(await errorsLeft(new URL(request.url).searchParams)),
);
