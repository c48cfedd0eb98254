import { z } from 'zod';

/** What stands in the database does not fit its schema: a fault of ours, not of whoever asks. */
class StoredShapeError extends Error {
  override name = 'StoredShapeError';
}

/** Parses what was read from the database. Throws StoredShapeError, which says what it was. */
export function fromRow<S extends z.ZodType>(schema: S, value: unknown, what: string): z.infer<S> {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  throw new StoredShapeError(`a stored ${what} does not fit its schema: ${z.prettifyError(parsed.error)}`);
}

/** Throws StoredShapeError for a version of a stored shape that this program does not know. */
export function known(version: number, newest: number, what: string): void {
  if (version > newest)
    throw new StoredShapeError(`a stored ${what} has version ${version}; this program knows ${newest}`);
}

/** A time as JSON of the database has it, as ISO text. */
export const jsonTime = z.string().transform((text) => new Date(text).toISOString());
