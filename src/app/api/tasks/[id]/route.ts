import { directTask } from '@/server/tasks';
import { jsonOf, numberOf, respond } from '../../respond';

/** Pauses, resumes, cancels, tries again or forgets a long task. */
export const POST = respond<{ id: string }>(async (request, { id }) => {
  await directTask(numberOf(id, 'task'), await jsonOf(request));
  return Response.json({});
});
