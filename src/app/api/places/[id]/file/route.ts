import { placeFile } from '@/server/places';
import { lengthOf, numberOf, respond, streamOf } from '../../../respond';

/** The bytes of a file in the place, for hearing it there: `?path=`. */
export const GET = respond<{ id: string }>(async (request, { id }) => {
  const path = new URL(request.url).searchParams.get('path') ?? '';
  const { mediaType, bytes, from, to, byteLength } = await placeFile(
    numberOf(id, 'folder'),
    path,
    request.headers.get('range'),
  );
  const headers: Record<string, string> = { 'content-type': mediaType, 'cache-control': 'no-store' };
  if (to !== null) Object.assign(headers, lengthOf(to - from));
  const partial = to !== null && to - from < byteLength!;
  if (partial) headers['content-range'] = `bytes ${from}-${to - 1}/${byteLength}`;
  return new Response(streamOf(bytes), { status: partial ? 206 : 200, headers });
});
