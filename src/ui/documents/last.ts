import type { DocumentKind } from '@/contract/documents';

const kept = (kind: DocumentKind) => `grento-${kind}`;

/** The one of a kind that was worked on last in this browser: what is put in from other screens goes there. */
export const lastOf = (kind: DocumentKind): string | null =>
  typeof localStorage === 'undefined' ? null : localStorage.getItem(kept(kind));
export const rememberLast = (kind: DocumentKind, id: string) => localStorage.setItem(kept(kind), id);
export const forgetLast = (kind: DocumentKind) => localStorage.removeItem(kept(kind));
