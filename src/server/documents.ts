import { OrderRefusal } from '@/library/orderRefusal';
import type { z } from 'zod';
import { changeOf, newDocument, type VersionedDocument, type DocumentKind } from '@/contract/documents';
import { readCurator } from '@/store/curators';
import { database } from '@/store/database';
import { announceDocument } from '@/store/notifications';
import type { DocumentStore } from '@/store/documents';
import type { Actor } from './change';
import { log } from './log';
import { once } from './once';
import { UserError } from './userError';

/** Half of a character that takes two, left by cutting: nothing could store it. */
const HALF = /[\ud800-\udbff]$/;

interface Kind<S, O> {
  kind: DocumentKind;
  store: DocumentStore<S>;
  state: z.ZodType<S>;
  order: z.ZodType<O>;
  /** What one is after an order. Throws OrderRefusal. */
  ordered: (before: S, order: O) => S;
  empty: (name: string) => S;
}

/** What can be done with everything of a kind that is kept with its steps. */
export function documentCases<S extends { name: string }, O>(of: Kind<S, O>) {
  const { kind, store, ordered, empty } = of;
  const gone = () => new UserError(`There is no such ${kind}, or it was deleted.`, 404);
  const changeShape = changeOf(of.order);

  /** One of them. Throws UserError where there is none. */
  async function now(id: string): Promise<VersionedDocument<S>> {
    const kept = await store.read(database(), id);
    if (!kept) throw gone();
    return kept;
  }

  /** A new one, or a copy of one. Throws UserError where there is nothing to copy. */
  async function make(input: unknown, actor: Actor): Promise<VersionedDocument<S>> {
    const { name, copyOf } = newDocument.parse(input);
    const from = copyOf ? (await now(copyOf)).state : null;
    const state = from
      ? { ...from, name: name ?? `${from.name.slice(0, 110).replace(HALF, '')}, a copy` }
      : empty(name ?? `A ${kind} without a name`);
    const { curatorId } = await readCurator(database(), actor);
    const id = await once(async (client) => {
      const words = from ? `copied from “${from.name}”` : 'made';
      const made = await store.insert(client, state, words, curatorId);
      await announceDocument(client, kind, made);
      return made;
    });
    log.info({ event: `${kind} made`, id });
    return now(id);
  }

  /**
   * Changes one: an order is done to what it is now, whoever changed it meanwhile; or a step is undone or redone. Throws
   * UserError with a sentence where that cannot be.
   */
  async function change(id: string, input: unknown, actor: Actor): Promise<VersionedDocument<S>> {
    const asked = changeShape.parse(input);
    await once(async (client) => {
      const kept = await store.read(client, id, { lock: true });
      if (!kept) throw gone();
      if (asked.do === 'order') {
        const { curatorId } = await readCurator(client, actor);
        const state = afterOrder(kept.state, asked.order as O);
        await store.addState(client, kept, state, asked.words, curatorId);
      } else {
        const [there, by] = asked.do === 'undo' ? [kept.undo, -1] : [kept.redo, 1];
        if (there === null)
          throw new UserError(
            asked.do === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.',
            409,
          );
        await store.showState(client, id, kept.sequence + by);
      }
      await announceDocument(client, kind, id);
    });
    // Sent again because its answer was lost, a change that was done is not told as refused when the whole was deleted since.
    return (await store.read(database(), id, { orBinned: true }))!;
  }

  function afterOrder(state: S, order: O): S {
    try {
      return of.state.parse(ordered(state, order));
    } catch (error) {
      if (error instanceof OrderRefusal) throw new UserError(error.message, 409);
      throw error;
    }
  }

  /** Throws one away, or takes it back. Throws UserError where there is none. */
  async function bin(id: string, isBinned: boolean): Promise<void> {
    if (!(await store.bin(id, isBinned))) throw gone();
    await announceDocument(database(), kind, id);
  }

  return { now, make, change, bin };
}
