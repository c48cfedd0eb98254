import { setInBin } from '@/server/shelve';
import { respond, sampleIdOf } from '../../../respond';

export const PUT = respond<{ id: string }>(async (_request, params) => {
  await setInBin(sampleIdOf(params), true);
  return Response.json({});
});
export const DELETE = respond<{ id: string }>(async (_request, params) => {
  await setInBin(sampleIdOf(params), false);
  return Response.json({});
});
