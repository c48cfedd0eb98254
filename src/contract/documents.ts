import { z } from 'zod';

/** What is kept with every state that it was in, so that steps can be undone. */
export const STEPPED = ['blend', 'pack'] as const;
export type DocumentKind = (typeof STEPPED)[number];

/** One of them as it is kept. */
export const documentOf = <S extends z.ZodType>(state: S) =>
  z.object({
    id: z.uuid(),
    /** The state that is shown. */
    sequence: z.int(),
    state,
    /** What undo undoes and redo does again; null where there is nothing. */
    undo: z.string().nullable(),
    redo: z.string().nullable(),
  });
export interface VersionedDocument<S> {
  id: string;
  sequence: number;
  state: S;
  undo: string | null;
  redo: string | null;
}

/** A change: an order with what it is called, or a step back or forth. */
export const changeOf = <O extends z.ZodType>(order: O) =>
  z.discriminatedUnion('do', [
    z.object({ do: z.literal('order'), words: z.string().trim().min(1).max(200), order }),
    z.object({ do: z.literal('undo') }),
    z.object({ do: z.literal('redo') }),
  ]);
export type ChangeOf<O> = { do: 'order'; words: string; order: O } | { do: 'undo' } | { do: 'redo' };

export const documentName = z.string().trim().min(1).max(120);

/** A new one, or a copy of one. */
export const newDocument = z.object({ name: documentName.optional(), copyOf: z.uuid().optional() });

/** Fields of a shape, all of them optional and none with what stands for it otherwise: a patch says only what it changes. */
export function patchOf<P>(shape: Record<string, z.ZodType>, fixed: readonly string[]): z.ZodType<P> {
  const fields = Object.entries(shape).filter(([name]) => !fixed.includes(name));
  return z.object(
    Object.fromEntries(
      fields.map(([name, field]) => [
        name,
        (field instanceof z.ZodDefault ? (field.unwrap() as z.ZodType) : field).optional(),
      ]),
    ),
  ) as unknown as z.ZodType<P>;
}
