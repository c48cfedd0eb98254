import { z } from 'zod';

/** Who settles, proves and saves. */
export const curator = z.object({
  curatorId: z.uuid(),
  name: z.string().min(1).max(80),
  initials: z.string().min(1).max(4),
  /** False for the one that exists from the start, until somebody says who they are. */
  named: z.boolean(),
});
export type Curator = z.infer<typeof curator>;

export const curatorName = z.object({ name: z.string().trim().min(1).max(80) });

/** "Ada Wilmot" signs "AW": the first letters of up to three words. */
export function initialsOf(name: string): string {
  const words = name.trim().split(/[\s-]+/);
  const letters = words.map((word) => [...word][0]?.toUpperCase() ?? '').join('');
  return [...letters].slice(0, 3).join('') || '?';
}

/** The request header that says which curator's hand it is. */
export const CURATOR_HEADER = 'x-grento-curator';
