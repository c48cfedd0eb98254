import { originalRange } from '@/server/originalRange';
import { attachment, lengthOf, respond, sampleIdOf, streamOf } from '../../../respond';

/**
 * The original's bytes, whole or in part; `?download` offers them under their name, `?listen` gives what browsers
 * decode instead where that is another file.
 */
export const GET = respond<{ id: string }>(async (request, params) => {
  const asked = new URL(request.url).searchParams;
  const part = await originalRange(sampleIdOf(params), request.headers.get('range'), asked.has('listen'));
  const headers: Record<string, string> = {
    'content-type': part.mediaType,
    ...lengthOf(part.to - part.from),
    'accept-ranges': 'bytes',
    etag: `"${part.sha256}"`,
    // Originals never change.
    'cache-control': 'private, max-age=31536000, immutable',
  };
  if (part.partial) headers['content-range'] = `bytes ${part.from}-${part.to - 1}/${part.byteLength}`;
  if (asked.has('download')) headers['content-disposition'] = attachment(part.name);
  return new Response(streamOf(part.bytes), { status: part.partial ? 206 : 200, headers });
});
