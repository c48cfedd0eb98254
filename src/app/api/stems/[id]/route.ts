import { changeSet } from '@/server/stemSets';
import { handOf, jsonOf, respond, sampleIdOf } from '../../respond';

/** Joins, refuses or changes a set. */
export const POST = respond<{ id: string }>(async (request, params) => {
  await changeSet(sampleIdOf(params), await jsonOf(request), handOf(request));
  return Response.json({});
});
