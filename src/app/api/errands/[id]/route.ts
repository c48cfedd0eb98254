import { directErrand } from '@/server/errands';
import { jsonOf, numberOf, respond } from '../../respond';

/** Pauses, resumes, cancels, tries again or forgets an errand. */
export const POST = respond<{ id: string }>(async (request, { id }) => {
  await directErrand(numberOf(id, 'errand'), await jsonOf(request));
  return Response.json({});
});
