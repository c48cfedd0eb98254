import { sampleArchive } from '@/server/sampleArchive';
import { attachment, respond, streamOf } from '../../respond';

export const GET = respond<{ key: string }>(async (_, { key }) => {
  const bytes = sampleArchive(key);
  return new Response(streamOf(bytes[Symbol.asyncIterator]() as AsyncGenerator<Uint8Array>), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': attachment('Grento samples.zip'),
      'cache-control': 'no-store',
    },
  });
});
