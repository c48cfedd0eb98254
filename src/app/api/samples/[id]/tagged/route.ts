import { taggedCopy } from '@/server/taggedCopy';
import { attachment, lengthOf, respond, sampleIdOf, streamOf } from '../../../respond';

/** A copy that carries tempo and key. */
export const GET = respond<{ id: string }>(async (_request, params) => {
  const copy = await taggedCopy(sampleIdOf(params));
  return new Response(streamOf(copy.bytes), {
    headers: {
      'content-type': copy.mediaType,
      ...lengthOf(copy.byteLength),
      'content-disposition': attachment(copy.name),
      'cache-control': 'no-store',
    },
  });
});
