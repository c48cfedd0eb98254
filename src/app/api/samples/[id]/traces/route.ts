import { database } from '@/store/database';
import { readTraces } from '@/store/traces';
import { UserError } from '@/server/userError';
import { respond, sampleIdOf } from '../../../respond';

/** What the Bench draws of a sample, packed by `core/traces`. */
export const GET = respond<{ id: string }>(async (_request, params) => {
  const bytes = await readTraces(database(), sampleIdOf(params));
  if (!bytes) throw new UserError('Nothing was drawn of this sample yet; it waits to be measured.', 404);
  return new Response(Uint8Array.from(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'content-length': String(bytes.length) },
  });
});
