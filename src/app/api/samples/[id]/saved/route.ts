import { setSaved } from '@/server/shelve';
import { respond, sampleIdOf } from '../../../respond';

export const PUT = respond<{ id: string }>(async (_request, params) =>
  Response.json(await setSaved(sampleIdOf(params), true)),
);
export const DELETE = respond<{ id: string }>(async (_request, params) =>
  Response.json(await setSaved(sampleIdOf(params), false)),
);
