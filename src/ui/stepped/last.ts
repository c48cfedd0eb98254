import type { SteppedKind } from '@/contract/stepped';

const kept = (kind: SteppedKind) => `grento-${kind}`;

/** The one of a kind that was worked on last in this browser: what is put in from other screens goes there. */
export const lastOf = (kind: SteppedKind): string | null =>
  typeof localStorage === 'undefined' ? null : localStorage.getItem(kept(kind));
export const rememberLast = (kind: SteppedKind, id: string) => localStorage.setItem(kept(kind), id);
export const forgetLast = (kind: SteppedKind) => localStorage.removeItem(kept(kind));
