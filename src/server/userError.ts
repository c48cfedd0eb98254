import { isDatabaseTrouble } from '@/store/database';

/** Something that the user can understand and mend; the message is a sentence for them. */
export class UserError extends Error {
  override name = 'UserError';
  constructor(
    message: string,
    readonly status: 400 | 403 | 404 | 409 | 411 | 413 | 416 | 422 | 503 = 400,
    /** What the page can offer to do about it: `foreign`: to do it all the same. */
    readonly code: 'foreign' | null = null,
  ) {
    super(message);
  }
}

export function notFound(): UserError {
  return new UserError('There is no such sample.', 404);
}

/** Whether something failed only because the database was busy or away: it may be asked again. */
export const isBusy = isDatabaseTrouble;
