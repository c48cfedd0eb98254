/** Why no tagged copy of a sample can be written, as a sentence; null where one can. */
export function whyNotTagged(
  { name, format }: { name: string; format: string | null },
  hasGrid: boolean,
): string | null {
  if (format === null) return `“${name}” is not audio; only the original can be downloaded.`;
  if (format === 'midi' && !hasGrid)
    return `“${name}” has no tempo and no first downbeat to write; the original can be downloaded.`;
  return null;
}
