import { shelfTable } from '@/server/shelfTable';
import { attachment, respond, streamOf } from '../../respond';

/** All that a query of the Shelf finds, one sample a line. */
export const GET = respond(async (request) => {
  const { mediaType, name, bytes } = shelfTable(new URL(request.url).searchParams);
  return new Response(streamOf(bytes), {
    headers: {
      'content-type': mediaType,
      'content-disposition': attachment(name),
      'cache-control': 'no-store',
    },
  });
});
