import { forgetPlace, lookInto, takeFromPlace, watchPlace } from '@/server/places';
import { jsonOf, numberOf, respond } from '../../respond';

type Params = { id: string };
const idOf = ({ id }: Params) => numberOf(id, 'folder');

/** What lies in a folder of the place: `?path=`. */
export const GET = respond<Params>(async (request, params) =>
  Response.json(await lookInto(idOf(params), new URL(request.url).searchParams.get('path') ?? '')),
);

/** Watched or not. */
export const PUT = respond<Params>(async (request, params) =>
  Response.json(await watchPlace(idOf(params), await jsonOf(request))),
);

/** Takes files and folders in. */
export const POST = respond<Params>(async (request, params) =>
  Response.json(await takeFromPlace(idOf(params), await jsonOf(request)), { status: 201 }),
);

export const DELETE = respond<Params>(async (_, params) => {
  await forgetPlace(idOf(params));
  return Response.json({});
});
