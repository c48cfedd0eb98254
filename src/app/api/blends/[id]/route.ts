import { binBlend, blendNow, changeBlend } from '@/server/blends';
import { handOf, idOf, jsonOf, respond } from '../../respond';

/** A blend as it is now. */
export const GET = respond<{ id: string }>(async (_, params) =>
  Response.json(await blendNow(idOf(params, 'blend'))),
);

/** Changes it by an order, or goes a step back or forth. */
export const POST = respond<{ id: string }>(async (request, params) =>
  Response.json(await changeBlend(idOf(params, 'blend'), await jsonOf(request), handOf(request))),
);

/** Throws it away; it can be taken back. */
export const DELETE = respond<{ id: string }>(async (_, params) => {
  await binBlend(idOf(params, 'blend'), true);
  return Response.json({});
});

/** Takes it back. */
export const PUT = respond<{ id: string }>(async (_, params) => {
  await binBlend(idOf(params, 'blend'), false);
  return Response.json({});
});
