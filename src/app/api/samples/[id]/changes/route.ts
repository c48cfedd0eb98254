import { sampleRequest } from '@/contract/orders';
import { changeSample } from '@/server/change';
import { actorOf, jsonOf, respond, sampleIdOf } from '../../../respond';

/** Every change of one sample: settled, proved, undone, saved, put into the bin. Answers with what became of it. */
export const POST = respond<{ id: string }>(async (request, params) => {
  const { base, order } = sampleRequest.parse(await jsonOf(request));
  return Response.json(await changeSample(order, { sampleId: sampleIdOf(params), base }, actorOf(request)));
});
