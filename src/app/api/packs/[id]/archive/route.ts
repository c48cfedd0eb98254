import { packArchive } from '@/server/packArchive';
import { attachment, idOf, lengthOf, respond, streamOf } from '../../../respond';

/** What was written last of a pack, as one ZIP. */
export const GET = respond<{ id: string }>(async (_, params) => {
  const { name, byteLength, bytes } = await packArchive(idOf(params, 'pack'));
  return new Response(streamOf(bytes[Symbol.asyncIterator]() as AsyncGenerator<Uint8Array>), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': attachment(name),
      ...(byteLength !== null && lengthOf(byteLength)),
      'cache-control': 'no-store',
    },
  });
});
