import { z } from 'zod';
import { sampleSummary } from '@/contract/entry';
import { pack } from '@/contract/pack';
import { TASK_STATES } from '@/contract/tasks';

/** How far the writing of a pack has come, and of what. */
export const packWriting = z.object({
  /** null: its line was taken away. */
  taskId: z.number().nullable(),
  state: z.enum(TASK_STATES),
  /** When it was asked for, ISO text. */
  begunAt: z.string(),
  samples: z.number(),
  /** How many of them are settled otherwise by now. */
  changed: z.number(),
  bytes: z.number(),
  /** What could not be written, in sentences. */
  faults: z.array(z.string()),
  /** The pack as it was then. */
  pack,
});
export type PackWriting = z.infer<typeof packWriting>;

/** What a pack holds as it is now, the last writing of it, and the last that came to its end. */
export const packContents = z.object({
  rows: z.array(sampleSummary.extend({ licence: z.string() })),
  last: packWriting.nullable(),
  done: packWriting.nullable(),
});
export type PackContents = z.infer<typeof packContents>;
