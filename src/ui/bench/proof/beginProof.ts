/** Whether the check is to begin as soon as its card is shown. */
let isAsked = false;

/** The check begins as soon as its card is shown. */
export const beginProof = (): void => void (isAsked = true);

/** Whether it is to begin; said once. */
export function isProofAsked(): boolean {
  const was = isAsked;
  isAsked = false;
  return was;
}
