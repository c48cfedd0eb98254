import { z } from 'zod';
import {
  figuresProofResult,
  sampleEntry,
  sampleSummary,
  type ProofRequest,
  type SampleEntry,
  type SettleChange,
} from '@/core/library/entry';
import {
  bulkResult,
  bulkSteps,
  deliveryCatalogue,
  deliveryMood,
  errand,
  filePeek,
  knownFiles,
  likeness,
  place,
  placeFolder,
  queueState,
  stemSet,
  type stemSetChange,
  type AnnouncedFile,
  type BulkAction,
  type DeliveryMood,
} from '@/core/library/intake';
import { librarySettings, type LibrarySettings } from '@/core/library/settings';
import {
  intakeCounts,
  intakePage,
  shelfPage,
  type IntakeCounts,
  type IntakePage,
  type ShelfPage,
} from '@/core/library/shelfQuery';

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
const started = z.object({ errandId: z.number(), files: z.number() });
const alikePairs = z.array(likeness.extend({ samples: z.tuple([sampleSummary, sampleSummary]) }));
export type AlikePair = z.infer<typeof alikePairs>[number];
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
  intakeCounts: (params: URLSearchParams, signal?: AbortSignal): Promise<IntakeCounts> =>
    call(intakeCounts, `/api/samples/counts?${params}`, { signal }),
  intakeIds: (params: URLSearchParams): Promise<string[]> =>
    call(z.array(z.string()), `/api/samples/ids?${params}`),
  known: (files: readonly AnnouncedFile[]) => call(knownFiles, '/api/intake/known', json('POST', files)),
  queue: (signal?: AbortSignal) => call(queueState, '/api/queue', { signal }),
  pauseQueue: (paused: boolean) => call(queueState, '/api/queue', json('PUT', { paused })),
  cancelQueue: () => call(nothing, '/api/queue', { method: 'DELETE' }),
  preferInSight: (sampleIds: readonly string[]) => call(nothing, '/api/queue', json('POST', { sampleIds })),
  bulk: (action: BulkAction, sampleIds: readonly string[], stepId: number | null) =>
    call(bulkResult, '/api/bulk', json('POST', { action, sampleIds, stepId })),
  bulkSteps: (signal?: AbortSignal) => call(bulkSteps, '/api/bulk', { signal }),
  undoBulk: (stepId: number) =>
    call(
      z.object({ undone: z.number(), changedSince: z.number(), words: z.string() }),
      `/api/bulk/${stepId}/undo`,
      {
        method: 'POST',
      },
    ),
  errands: (signal?: AbortSignal) => call(z.array(errand), '/api/errands', { signal }),
  directErrand: (errandId: number, what: string) =>
    call(nothing, `/api/errands/${errandId}`, json('POST', { do: what })),
  places: (signal?: AbortSignal) => call(z.array(place), '/api/places', { signal }),
  keepPlace: (path: string) => call(place, '/api/places', json('POST', { path })),
  watchPlace: (placeId: number, watched: boolean) =>
    call(place, `/api/places/${placeId}`, json('PUT', { watched })),
  forgetPlace: (placeId: number) => call(nothing, `/api/places/${placeId}`, { method: 'DELETE' }),
  placeFolder: (placeId: number, path: string, signal?: AbortSignal) =>
    call(placeFolder, `/api/places/${placeId}?${new URLSearchParams({ path })}`, { signal }),
  peek: (placeId: number, path: string, signal?: AbortSignal) =>
    call(filePeek, `/api/places/${placeId}/peek?${new URLSearchParams({ path })}`, { signal }),
  takeFromPlace: (placeId: number, paths: readonly string[]) =>
    call(started, `/api/places/${placeId}`, json('POST', { paths })),
  deliveries: (signal?: AbortSignal) => call(deliveryCatalogue, '/api/deliveries', { signal }),
  fetchPack: (packId: string, paths: readonly string[] | null) =>
    call(started, '/api/deliveries', json('POST', { packId, paths })),
  deliveryMood: (signal?: AbortSignal) => call(deliveryMood, '/api/deliveries/mood', { signal }),
  setDeliveryMood: (mood: DeliveryMood) => call(deliveryMood, '/api/deliveries/mood', json('PUT', mood)),
  stemSets: (signal?: AbortSignal) => call(z.array(stemSet), '/api/stems', { signal }),
  stemSetOf: async (sampleId: string, signal?: AbortSignal) =>
    (await call(z.array(stemSet), `/api/stems?sample=${sampleId}`, { signal }))[0] ?? null,
  joinStems: (sampleIds: readonly string[], name: string) =>
    call(z.object({ setId: z.string() }), '/api/stems', json('POST', { sampleIds, name })),
  changeStemSet: (setId: string, change: z.input<typeof stemSetChange>) =>
    call(nothing, `/api/stems/${setId}`, json('POST', change)),
  alike: (signal?: AbortSignal) => call(alikePairs, '/api/alike', { signal }),
  decideAlike: (a: string, b: string, what: 'merge' | 'keep apart' | 'swap and merge') =>
    call(nothing, '/api/alike', json('POST', { a, b, do: what })),
  reopenAlike: (a: string, b: string) => call(nothing, '/api/alike', json('PUT', { a, b })),
  measureAgain: (sampleId: string, range: { low: number; high: number } | null) =>
    call(nothing, at(sampleId, '/measure'), json('POST', { range })),
  stopMeasuring: (sampleId: string) => call(nothing, at(sampleId, '/measure'), { method: 'DELETE' }),
  setInBin: (sampleId: string, inBin: boolean) =>
    call(nothing, at(sampleId, '/bin'), { method: inBin ? 'PUT' : 'DELETE' }),
};

export const originalUrl = (sampleId: string) => at(sampleId, '/original?download');
export const taggedUrl = (sampleId: string) => at(sampleId, '/tagged');
