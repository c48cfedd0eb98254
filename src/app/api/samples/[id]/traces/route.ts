import { tracesOfSample } from '@/server/readTraces';
import { lengthOf, respond, sampleIdOf } from '../../../respond';

export const GET = respond<{ id: string }>(async (_request, params) => {
  const bytes = await tracesOfSample(sampleIdOf(params));
  return new Response(bytes, {
    headers: { 'content-type': 'application/octet-stream', ...lengthOf(bytes.length) },
  });
});
