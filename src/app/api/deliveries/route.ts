import { deliveryOffers, fetchPack } from '@/server/deliveries';
import { jsonOf, respond } from '../respond';

/** What the delivery service offers. */
export const GET = respond(async () => Response.json(await deliveryOffers()));

/** Fetches a pack. */
export const POST = respond(async (request) =>
  Response.json(await fetchPack(await jsonOf(request)), { status: 201 }),
);
