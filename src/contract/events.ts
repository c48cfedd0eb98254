import { z } from 'zod';
import { STEPPED } from './documents';

/** What happens in the library while somebody looks; screens that show it ask again. */
export const liveEvent = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('samples'),
    sampleIds: z.array(z.uuid()),
    what: z.enum(['arrived', 'measured', 'changed', 'removed']),
  }),
  /** How far the measuring of a sample is. */
  z.object({ kind: z.literal('progress'), sampleId: z.uuid(), stage: z.string(), progress: z.number() }),
  /** Tasks were put into the queue, ended, or moved. */
  z.object({ kind: z.literal('tasks') }),
  /** A blend or a pack was made, changed or deleted. */
  z.object({ kind: z.literal('stepped'), what: z.enum(STEPPED), id: z.uuid() }),
  /** The line is broken, or goes on: whether Grento answers. Told by the page's own end of it. */
  z.object({ kind: z.literal('line'), isThere: z.boolean() }),
  /** The line was broken: anything may have happened. */
  z.object({ kind: z.literal('missed') }),
]);
export type LiveEvent = z.infer<typeof liveEvent>;
