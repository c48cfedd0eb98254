import { readEntry } from '@/server/entry';
import { respond, sampleIdOf } from '../../respond';

export const GET = respond<{ id: string }>(async (_request, params) =>
  Response.json(await readEntry(sampleIdOf(params))),
);
