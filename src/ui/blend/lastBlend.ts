const KEPT = 'grento-blend';

/** The blend that was worked on last in this browser: what is put in from other screens goes there. */
export const lastBlend = (): string | null =>
  typeof localStorage === 'undefined' ? null : localStorage.getItem(KEPT);
export const rememberBlend = (blendId: string) => localStorage.setItem(KEPT, blendId);
export const forgetBlend = () => localStorage.removeItem(KEPT);
