import { proveByFigures } from '@/server/change/proofs';
import { actorOf, jsonOf, respond } from '../respond';

/** Proofs by figures alone, of several samples at once. */
export const POST = respond(async (request) =>
  Response.json(await proveByFigures(await jsonOf(request), actorOf(request))),
);
