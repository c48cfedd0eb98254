import { errorsLeftQuery, type ErrorsLeft } from '@/contract/errorsLeft';
import { expectedErrors } from '@/library/errorsLeft/expectedErrors';
import { guessSumsOf } from '@/store/errorsLeft';

/** How many measured tempi and keys are expected to be wrong. Throws ZodError for parameters that are not understood. */
export async function errorsLeft(params: URLSearchParams): Promise<ErrorsLeft> {
  const { of } = errorsLeftQuery.parse(Object.fromEntries(params));
  const [tempo, key] = await Promise.all([guessSumsOf('tempo', of), guessSumsOf('key', of)]);
  return { tempo: expectedErrors(tempo), key: expectedErrors(key) };
}
