import { forgetSearch } from '@/server/searches';
import { respond, sampleIdOf } from '../../respond';

/** Forgets a kept question. */
export const DELETE = respond<{ id: string }>(async (_, params) => {
  await forgetSearch(sampleIdOf(params));
  return Response.json({});
});
