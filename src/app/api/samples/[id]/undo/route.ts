import { step } from '@/server/settle';
import { respond, sampleIdOf } from '../../../respond';

export const POST = respond<{ id: string }>(async (_request, params) =>
  Response.json(await step(sampleIdOf(params), 'undo')),
);
