/** The rest of a division that is never negative: −1 by 12 is 11. */
export const mod = (value: number, by: number): number => ((value % by) + by) % by;
