import type { SteppedKind } from '@/contract/stepped';
import type { Hand } from '@/server/change';
import { handOf, idOf, jsonOf, respond } from './respond';

interface Cases {
  now: (id: string) => Promise<unknown>;
  change: (id: string, input: unknown, hand: Hand) => Promise<unknown>;
  bin: (id: string, isBinned: boolean) => Promise<void>;
}

/** The handlers for one blend, or one pack. */
export const steppedRoute = (kind: SteppedKind, { now, change, bin }: Cases) => ({
  /** As it is now. */
  GET: respond<{ id: string }>(async (_, params) => Response.json(await now(idOf(params, kind)))),
  /** Changes it by an order, or goes a step back or forth. */
  POST: respond<{ id: string }>(async (request, params) =>
    Response.json(await change(idOf(params, kind), await jsonOf(request), handOf(request))),
  ),
  /** Throws it away; it can be taken back. */
  DELETE: respond<{ id: string }>(async (_, params) => {
    await bin(idOf(params, kind), true);
    return Response.json({});
  }),
  /** Takes it back. */
  PUT: respond<{ id: string }>(async (_, params) => {
    await bin(idOf(params, kind), false);
    return Response.json({});
  }),
});
