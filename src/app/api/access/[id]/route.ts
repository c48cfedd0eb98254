import { z } from 'zod';
import { takeAccess } from '@/server/access/tokens';
import { UserError } from '@/server/userError';
import { respond } from '../../respond';

export const DELETE = respond<{ id: string }>(async (_, { id }) => {
  if (!z.uuid().safeParse(id).success) throw new UserError('There is no such token.', 404);
  await takeAccess(id);
  return Response.json({});
});
