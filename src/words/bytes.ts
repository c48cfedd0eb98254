const STEPS = [
  { from: 1e12, unit: 'TB' },
  { from: 1e9, unit: 'GB' },
  { from: 0, unit: 'MB' },
] as const;

/** A size in words, in decimal units as disks are sold: "3.4 MB". */
export function bytesInWords(bytes: number): string {
  const { from, unit } = STEPS.find((step) => bytes >= step.from)!;
  return `${(bytes / (from || 1e6)).toLocaleString('en', { maximumFractionDigits: 1 })} ${unit}`;
}
