import { sampleRequest } from '@/contract/orders';
import { changeSample } from '@/server/change';
import { handOf, jsonOf, respond, sampleIdOf } from '../../../respond';

/** Every change of one sample: settled, proved, taken back, saved, put into the bin. Answers with what became of it. */
export const POST = respond<{ id: string }>(async (request, params) => {
  const { base, order } = sampleRequest.parse(await jsonOf(request));
  return Response.json(await changeSample(order, { sampleId: sampleIdOf(params), base }, handOf(request)));
});
