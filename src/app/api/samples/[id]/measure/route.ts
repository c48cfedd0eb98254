import { measureAgain, stopMeasuring } from '@/server/tasks';
import { jsonOf, respond, sampleIdOf } from '../../../respond';

export const POST = respond<{ id: string }>(async (request, params) => {
  await measureAgain(sampleIdOf(params), await jsonOf(request));
  return Response.json({}, { status: 202 });
});
export const DELETE = respond<{ id: string }>(async (_request, params) => {
  await stopMeasuring(sampleIdOf(params));
  return Response.json({});
});
