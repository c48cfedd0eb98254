/** How one tempo stands to another. */
export interface TempoRelation {
  /** The simple ratio that links them, or null. */
  ratio: number | null;
  /** In words, for the table of readings: "agrees", "double", "3.2 % faster". */
  words: string;
  agrees: boolean;
}

const RATIOS: [number, string][] = [
  [1, 'agrees'],
  [2, 'double'],
  [0.5, 'half'],
  [3 / 2, '×3⁄2'],
  [2 / 3, '×⅔'],
  [4 / 3, '×4⁄3'],
  [3 / 4, '×¾'],
  [3, 'triple'],
  [1 / 3, 'a third'],
  [4, 'four times'],
  [1 / 4, 'a quarter'],
];

/** Names round to whole numbers and taps are good to one BPM: within this share two tempi are one. */
const SAME_SHARE = 0.012;

/** Compares a tempo with the settled one. Throws RangeError unless both are positive. */
export function tempoRelation(bpm: number, settledBpm: number): TempoRelation {
  if (!(bpm > 0 && settledBpm > 0)) throw new RangeError('tempi are positive');
  const quotient = bpm / settledBpm;
  for (const [ratio, words] of RATIOS) {
    if (Math.abs(quotient / ratio - 1) < SAME_SHARE) return { ratio, words, agrees: ratio === 1 };
  }
  const percent = Math.abs(quotient - 1) * 100;
  return {
    ratio: null,
    words: `${percent.toFixed(1)} % ${quotient > 1 ? 'faster' : 'slower'}`,
    agrees: false,
  };
}
