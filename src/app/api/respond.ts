import { z } from 'zod';
import { CURATOR_HEADER } from '@/contract/curators';
import { ANYBODY, type Actor } from '@/server/change';
import { log } from '@/server/log';
import { asSent, CHANGE_HEADER } from '@/server/once';
import { guardRequest } from '@/server/requestGuard';
import { isBusy, UserError } from '@/server/userError';

type Context<P> = { params: Promise<P> };
type Handler<P> = (request: Request, params: P) => Promise<Response>;

/**
 * Wraps a handler of the interface: guards it, turns what it throws into an answer that the user can read,
 * and keeps traces for the log.
 */
export function respond<P = object>(handler: Handler<P>) {
  return async (request: Request, context: Context<P>): Promise<Response> => {
    try {
      guardRequest(request.method, request.headers);
      guardText([...new URL(request.url).searchParams]);
      const params = await context.params;
      return await asSent(changeIdOf(request), () => handler(request, params));
    } catch (error) {
      if (error instanceof UserError)
        return Response.json({ error: error.message, code: error.code }, { status: error.status });
      if (error instanceof z.ZodError) {
        return Response.json(
          { error: `The request was not understood: ${issuesOf(error)}` },
          { status: 400 },
        );
      }
      log.error({
        event: 'request failed',
        method: request.method,
        path: new URL(request.url).pathname,
        err: error,
      });
      if (isBusy(error))
        return Response.json(
          { error: 'The database is busy or being restarted; this was not done. Try again in a moment.' },
          { status: 503, headers: { 'retry-after': '2' } },
        );
      return Response.json(
        { error: 'Something went wrong inside Grento; the log has the details.' },
        { status: 500 },
      );
    }
  };
}

/** What a request says that cannot be, in words: where, and why. */
const issuesOf = ({ issues }: z.ZodError): string =>
  issues
    .slice(0, 3)
    .map(({ path, message }) => {
      const where = path.filter((part) => typeof part === 'string').join(', ');
      return `${where ? `${where}: ` : ''}${message.replace(/^Invalid input: /, '')}`;
    })
    .join('; ') + '.';

/** A stream of an async generator that ends the generator when the reader goes away. */
export function streamOf(bytes: AsyncGenerator<Uint8Array>): ReadableStream<Uint8Array> {
  return new ReadableStream({
    async pull(controller) {
      const { value, done } = await bytes.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await bytes.return(undefined);
    },
  });
}

/** How long what is streamed is, bytes: Next passes no `Content-Length` on, `scripts/lib/web.mjs` makes it of this. */
export const lengthOf = (bytes: number) => ({ 'x-byte-length': String(bytes) });

/** `Content-Disposition` for a download under any name (RFC 6266 and 8187). */
export function attachment(name: string): string {
  const plain = name.replace(/[^\x20-\x7e]|["\\%]/g, '_');
  return `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, escape)}`;
}

/** A number that the database gave out of the path. Throws UserError for anything else. */
export function idOf({ id }: { id: string }, what: string): string {
  if (!z.uuid().safeParse(id).success) throw new UserError(`There is no such ${what}.`, 404);
  return id;
}

/** A sample's. */
export const sampleIdOf = (params: { id: string }): string => idOf(params, 'sample');

/** The largest number that the database gives to anything here. */
const LARGEST_NUMBER = 2 ** 31 - 1;

/** A whole number out of the path. Throws UserError for anything else. */
export function numberOf(text: string, what: string): number {
  if (!/^\d{1,10}$/.test(text) || Number(text) > LARGEST_NUMBER)
    throw new UserError(`There is no such ${what}.`, 404);
  return Number(text);
}

/** The id by which a request may be sent again without being done twice. */
function changeIdOf(request: Request): string | null {
  const said = request.headers.get(CHANGE_HEADER);
  return request.method !== 'GET' && z.uuid().safeParse(said).success ? said : null;
}

/** Whose hand a request is, as the browser says it. */
export function actorOf(request: Request): Actor {
  const said = request.headers.get(CURATOR_HEADER);
  return z.uuid().safeParse(said).success ? said : ANYBODY;
}

/** The largest order is that of a render with every hit of an hour-long mix, bytes. */
const LARGEST_JSON = 24 * 1024 * 1024;

/** The text of a body, read no further than to the limit. Throws UserError beyond it. */
async function textOf(request: Request): Promise<string> {
  const decoder = new TextDecoder();
  const reader = request.body?.getReader();
  let text = '';
  let read = 0;
  for (;;) {
    const { value, done } = (await reader?.read()) ?? { value: undefined, done: true };
    if (done || !value) return text + decoder.decode();
    read += value.length;
    if (read > LARGEST_JSON) {
      await reader!.cancel().catch(() => {});
      throw new UserError(
        `The request is larger than ${LARGEST_JSON / 1024 / 1024} MB, the limit for a change.`,
        413,
      );
    }
    text += decoder.decode(value, { stream: true });
  }
}

/** The body of a request as JSON. Throws UserError when it is too large, is none, or holds what no text can hold. */
export async function jsonOf(request: Request): Promise<unknown> {
  let value: unknown;
  const text = await textOf(request);
  try {
    value = JSON.parse(text);
  } catch {
    throw new UserError('The request body is not JSON.');
  }
  guardText(value);
  return value;
}

/** NUL, and halves of characters that take two. */
const NO_TEXT = /\0|\p{Surrogate}/u;

/** Throws UserError for texts anywhere in a value that the database cannot hold. */
function guardText(value: unknown): void {
  if (typeof value === 'string') {
    if (NO_TEXT.test(value))
      throw new UserError('The request holds characters that no text can hold: NUL, or half of one.');
  } else if (value !== null && typeof value === 'object')
    for (const [name, inner] of Object.entries(value)) {
      guardText(name);
      guardText(inner);
    }
}
