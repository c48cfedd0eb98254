import { z } from 'zod';
import {
  figuresProofResult,
  sampleEntry,
  type ProofRequest,
  type SampleEntry,
  type SettleChange,
} from '@/core/library/entry';
import { librarySettings, type LibrarySettings } from '@/core/library/settings';
import { intakePage, shelfPage, type IntakePage, type ShelfPage } from '@/core/library/shelfQuery';

/** The server said no; the message is a sentence for the user. */
export class RefusedError extends Error {
  override name = 'RefusedError';
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

const refusal = z.object({ error: z.string() });

/** Throws RefusedError with the server's sentence, or one that says that it cannot be reached. */
async function ask(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new RefusedError('Grento does not answer. Is it still running?', 0);
  }
  if (response.ok) return response;
  const said = refusal.safeParse(await response.json().catch(() => null));
  throw new RefusedError(
    said.success ? said.data.error : `The server answered ${response.status}.`,
    response.status,
  );
}

async function call<T>(schema: z.ZodType<T>, path: string, init?: RequestInit): Promise<T> {
  return schema.parse(await (await ask(path, init)).json());
}

async function fetchBytes(path: string, signal?: AbortSignal): Promise<Uint8Array> {
  return new Uint8Array(await (await ask(path, { signal })).arrayBuffer());
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
});

const nothing = z.object({});
const at = (sampleId: string, rest = '') => `/api/samples/${sampleId}${rest}`;

export const api = {
  intake: (params: URLSearchParams, signal?: AbortSignal): Promise<IntakePage> =>
    call(intakePage, `/api/samples?${params}`, { signal }),
  shelf: (params: URLSearchParams, signal?: AbortSignal): Promise<ShelfPage> =>
    call(shelfPage, `/api/shelf?${params}`, { signal }),
  entry: (sampleId: string, signal?: AbortSignal): Promise<SampleEntry> =>
    call(sampleEntry, at(sampleId), { signal }),
  traces: (sampleId: string, signal?: AbortSignal): Promise<Uint8Array> =>
    fetchBytes(at(sampleId, '/traces'), signal),
  settle: (sampleId: string, change: SettleChange) =>
    call(sampleEntry, at(sampleId, '/changes'), json('POST', change)),
  undo: (sampleId: string) => call(sampleEntry, at(sampleId, '/undo'), { method: 'POST' }),
  redo: (sampleId: string) => call(sampleEntry, at(sampleId, '/redo'), { method: 'POST' }),
  returnTo: (sampleId: string, base: number, sequence: number) =>
    call(sampleEntry, at(sampleId, '/return'), json('POST', { base, sequence })),
  proveByFigures: (sampleIds: readonly string[], signedBy: string) =>
    call(figuresProofResult, '/api/proofs', json('POST', { sampleIds, signedBy })),
  settings: (signal?: AbortSignal): Promise<LibrarySettings> =>
    call(librarySettings, '/api/settings', { signal }),
  setSettings: (settings: LibrarySettings) => call(librarySettings, '/api/settings', json('PUT', settings)),
  prove: (sampleId: string, proof: ProofRequest) =>
    call(sampleEntry, at(sampleId, '/proofs'), json('POST', proof)),
  setSaved: (sampleId: string, saved: boolean) =>
    call(sampleEntry, at(sampleId, '/saved'), { method: saved ? 'PUT' : 'DELETE' }),
  measureAgain: (sampleId: string, range: { low: number; high: number } | null) =>
    call(nothing, at(sampleId, '/measure'), json('POST', { range })),
  stopMeasuring: (sampleId: string) => call(nothing, at(sampleId, '/measure'), { method: 'DELETE' }),
  setInBin: (sampleId: string, inBin: boolean) =>
    call(nothing, at(sampleId, '/bin'), { method: inBin ? 'PUT' : 'DELETE' }),
};

export const originalUrl = (sampleId: string) => at(sampleId, '/original?download');
export const taggedUrl = (sampleId: string) => at(sampleId, '/tagged');
