import { z } from 'zod';
import { steppedOf, type ChangeOf, type Stepped, type SteppedKind } from '@/contract/stepped';
import { call, json, nothing } from './request';

/** What a page asks of blends, or of packs. */
export interface SteppedCalls<S, O, R> {
  kind: SteppedKind;
  list: (signal?: AbortSignal) => Promise<R[]>;
  fetch: (id: string, signal?: AbortSignal) => Promise<Stepped<S>>;
  make: (of: { name?: string; copyOf?: string }) => Promise<Stepped<S>>;
  /** Where changes of one are asked for (`stepped/sendChange`). */
  at: (id: string) => string;
  /** A change as it is sent. */
  body: (change: ChangeOf<O>) => object;
  /** What the server answers to a change. */
  parse: (answer: unknown) => Stepped<S>;
  throwAway: (id: string) => Promise<unknown>;
  takeBack: (id: string) => Promise<unknown>;
}

/** The requests for a kind, with the shape of its states and of the rows of its list. */
export function steppedCalls<S, O, R>(
  kind: SteppedKind,
  state: z.ZodType<S>,
  row: z.ZodType<R>,
): SteppedCalls<S, O, R> {
  const kept = steppedOf(state) as unknown as z.ZodType<Stepped<S>>;
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
