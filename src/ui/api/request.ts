import { v4 } from 'uuid';
import { z } from 'zod';
import { CURATOR_HEADER } from '@/contract/curators';
import { storedCurator } from './myCurator';

/** The server said no; the message is a sentence for the user. */
export class RefusedError extends Error {
  override name = 'RefusedError';
  constructor(
    message: string,
    /** 0: it could not be reached. */
    readonly status: number,
    /** `foreign`: it is somebody else's, and can be meant all the same. */
    readonly code: string | null = null,
  ) {
    super(message);
  }
}

const refusal = z.object({ error: z.string(), code: z.string().nullable().default(null) });

/** Throws RefusedError with the server's sentence, or one that says that it cannot be reached. */
async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  const headers = new Headers(init?.headers);
  const curator = storedCurator();
  if (curator) headers.set(CURATOR_HEADER, curator);
  try {
    response = await fetch(path, { ...init, headers });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new RefusedError('No answer from the server. Is Grento running?', 0);
  }
  if (response.ok) return response;
  // The session is over; what is not stored makes the browser ask before it leaves.
  if (response.status === 401)
    location.assign(`/enter?${new URLSearchParams({ next: location.pathname + location.search })}`);
  const said = refusal.safeParse(await response.json().catch(() => null));
  throw said.success
    ? new RefusedError(said.data.error, response.status, said.data.code)
    : new RefusedError(`The server answered ${response.status}.`, response.status);
}

/** Asks the server and parses its answer. Throws RefusedError with a sentence. */
export async function call<T>(schema: z.ZodType<T>, path: string, init?: RequestInit): Promise<T> {
  return schema.parse(await (await ask(path, init)).json());
}

export async function fetchBytes(path: string, signal?: AbortSignal): Promise<Uint8Array> {
  return new Uint8Array(await (await ask(path, { signal })).arrayBuffer());
}

/** As `server/once` reads it: sent again under the same id, a change is done once. */
const CHANGE_HEADER = 'x-grento-change';

/** A request with a body. `changeId`: what it is known by when it is sent again. */
export const json = (method: string, body: unknown, changeId: string = v4()): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json', [CHANGE_HEADER]: changeId },
  body: JSON.stringify(body),
});

/** An answer that says nothing but that it was done. */
export const nothing = z.object({});
