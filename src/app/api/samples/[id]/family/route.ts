import { familyOf } from '@/server/renders';
import { respond, sampleIdOf } from '../../../respond';

/** What the sample was made from and how, and what was made of it. */
export const GET = respond<{ id: string }>(async (_, params) =>
  Response.json(await familyOf(sampleIdOf(params))),
);
