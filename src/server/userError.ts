/** Something that the user can understand and mend; the message is a sentence for them. */
export class UserError extends Error {
  override name = 'UserError';
  constructor(
    message: string,
    readonly status: 400 | 403 | 404 | 409 | 411 | 413 | 416 | 422 = 400,
  ) {
    super(message);
  }
}

export function notFound(): UserError {
  return new UserError('There is no such sample.', 404);
}
