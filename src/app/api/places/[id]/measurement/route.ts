import { measuredInside, keepMeasured } from '@/server/measurementCache';
import { jsonOf, numberOf, respond } from '../../../respond';

const pathOf = (request: Request) => new URL(request.url).searchParams.get('path') ?? '';

/** What was measured of a file in the place when it was heard: `?path=`; null when it was not yet. */
export const GET = respond<{ id: string }>(async (request, { id }) =>
  Response.json(await measuredInside(numberOf(id, 'folder'), pathOf(request))),
);

/** Remembers what was measured of it. */
export const PUT = respond<{ id: string }>(async (request, { id }) => {
  await keepMeasured(numberOf(id, 'folder'), pathOf(request), await jsonOf(request));
  return Response.json({});
});
