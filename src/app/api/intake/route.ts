import { Readable } from 'node:stream';
import type { ReadableStream as NodeStream } from 'node:stream/web';
import { z } from 'zod';
import { takeIn } from '@/server/takeIn';
import { UserError } from '@/server/userError';
import { respond } from '../respond';

const count = z.coerce.number().int().min(0).max(Number.MAX_SAFE_INTEGER);
const place = z.object({
  name: z.string().min(1).max(300),
  folder: z.string().max(1000).default(''),
  /** Length of the whole file, when it was last changed, and where in it the body begins. */
  length: count.optional(),
  modified: count.optional(),
  from: count.default(0),
  /** Said where a sample of these bytes and this name lies in the bin: it is left there. */
  anew: z.literal('yes').optional(),
});

/**
 * Takes in one file: `PUT /api/intake?name=…&folder=…` with its bytes as the body. With `length` and `modified` what
 * has arrived is kept when the line breaks, and `from` goes on there (`/api/intake/known` tells where).
 */
export const PUT = respond(async (request) => {
  const asked = place.parse(Object.fromEntries(new URL(request.url).searchParams));
  const { name, folder, from, length, modified, anew } = asked;
  if (!request.body) throw new UserError(`“${name}” arrived without any bytes.`, 411);
  const sent = request.headers.get('content-length');
  const bytes = Readable.fromWeb(request.body as unknown as NodeStream<Uint8Array>);
  const byteLength = length ?? (sent === null ? null : from + Number(sent));
  const result = await takeIn({
    name,
    folder,
    byteLength,
    modifiedMs: modified ?? null,
    from,
    anew: anew !== undefined,
    bytes,
  });
  const isHere = result.outcome === 'already here' || result.outcome === 'in the bin';
  return Response.json(result, { status: isHere ? 200 : 201 });
});
