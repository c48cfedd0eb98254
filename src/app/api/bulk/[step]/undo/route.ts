import { undoBulk } from '@/server/bulk';
import { numberOf, respond } from '../../../respond';

/** Takes a step back. */
export const POST = respond<{ step: string }>(async (_, { step }) =>
  Response.json(await undoBulk(numberOf(step, 'step'))),
);
