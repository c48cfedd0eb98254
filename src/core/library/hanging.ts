import { z } from 'zod';

/** What hangs on samples that went into the bin: how many others were made from them, and how many blends hold them. Both stay. */
export const hanging = z.object({ made: z.number(), blends: z.number() });
export type Hanging = z.infer<typeof hanging>;

/** What is said of it, behind another sentence; nothing where nothing hangs. `count`: of what went into the bin. */
export function hangingWords({ made, blends }: Hanging, count: number): string {
  const them = count === 1 ? 'it' : 'them';
  const madeWords = made === 0 ? '' : ` ${made} made from ${them} ${made === 1 ? 'stays' : 'stay'}.`;
  const held = blends === 1 ? 'A blend holds' : `${blends} blends hold`;
  return madeWords + (blends === 0 ? '' : ` ${held} ${count === 1 ? 'it' : 'some of them'}.`);
}
