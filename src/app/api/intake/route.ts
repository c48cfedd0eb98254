import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { z } from 'zod';
import { takeIn } from '@/server/takeIn';
import { UserError } from '@/server/userError';
import { respond } from '../respond';

const place = z.object({
  name: z.string().min(1).max(300),
  folder: z.string().max(1000).default(''),
});

/** Takes in one file: `PUT /api/intake?name=…&folder=…` with its bytes as the body. */
export const PUT = respond(async (request) => {
  const { name, folder } = place.parse(Object.fromEntries(new URL(request.url).searchParams));
  if (!request.body) throw new UserError(`“${name}” arrived without any bytes.`, 411);
  const length = request.headers.get('content-length');
  const bytes = Readable.fromWeb(request.body as unknown as NodeStream<Uint8Array>);
  const result = await takeIn({ name, folder, byteLength: length === null ? null : Number(length), bytes });
  return Response.json(result, { status: result.outcome === 'already here' ? 200 : 201 });
});
