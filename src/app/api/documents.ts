import type { DocumentKind } from '@/contract/documents';
import type { Actor } from '@/server/change';
import { actorOf, idOf, jsonOf, respond } from './respond';

interface Cases {
  now: (id: string) => Promise<unknown>;
  change: (id: string, input: unknown, actor: Actor) => Promise<unknown>;
  bin: (id: string, isBinned: boolean) => Promise<void>;
}

/** The handlers for one blend, or one pack. */
export const documentRoute = (kind: DocumentKind, { now, change, bin }: Cases) => ({
  /** As it is now. */
  GET: respond<{ id: string }>(async (_, params) => Response.json(await now(idOf(params, kind)))),
  /** Changes it by an order, or goes a step back or forth. */
  POST: respond<{ id: string }>(async (request, params) =>
    Response.json(await change(idOf(params, kind), await jsonOf(request), actorOf(request))),
  ),
  /** Throws it away; it can be undone. */
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
