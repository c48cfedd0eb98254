import { z } from 'zod';
import { documentOf, type ChangeOf, type VersionedDocument, type DocumentKind } from '@/contract/documents';
import { call, json, nothing } from './request';

/** What a page asks of blends, or of packs. */
export interface DocumentCalls<S, O, R> {
  kind: DocumentKind;
  list: (signal?: AbortSignal) => Promise<R[]>;
  fetch: (id: string, signal?: AbortSignal) => Promise<VersionedDocument<S>>;
  make: (of: { name?: string; copyOf?: string }) => Promise<VersionedDocument<S>>;
  /** Where changes of one are asked for (`stepped/sendChange`). */
  at: (id: string) => string;
  /** A change as it is sent. */
  body: (change: ChangeOf<O>) => object;
  /** What the server answers to a change. */
  parse: (answer: unknown) => VersionedDocument<S>;
  throwAway: (id: string) => Promise<unknown>;
  takeBack: (id: string) => Promise<unknown>;
}

/** The requests for a kind, with the shape of its states and of the rows of its list. */
export function documentCalls<S, O, R>(
  kind: DocumentKind,
  state: z.ZodType<S>,
  row: z.ZodType<R>,
): DocumentCalls<S, O, R> {
  const kept = documentOf(state) as unknown as z.ZodType<VersionedDocument<S>>;
  const at = (id: string) => `/api/${kind}s/${id}`;
  return {
    kind,
    list: (signal) => call(z.array(row), `/api/${kind}s`, { signal }),
    fetch: (id, signal) => call(kept, at(id), { signal }),
    make: (of) => call(kept, `/api/${kind}s`, json('POST', of)),
    at,
    body: (change) => change,
    parse: (answer) => kept.parse(answer),
    throwAway: (id) => call(nothing, at(id), { method: 'DELETE' }),
    takeBack: (id) => call(nothing, at(id), { method: 'PUT' }),
  };
}
