import { z } from 'zod';

/** Tempi are counted in steps of a 24th of an octave, so that half and double are as wide as what they belong to. */
export const TEMPO_BINS = { from: 40, perOctave: 24, count: 62 } as const;

/** Where a bin of tempi begins and ends, BPM. */
export const tempoBin = (bin: number): readonly [from: number, to: number] => [
  TEMPO_BINS.from * 2 ** (bin / TEMPO_BINS.perOctave),
  TEMPO_BINS.from * 2 ** ((bin + 1) / TEMPO_BINS.perOctave),
];

/** What the library is counted by over time, from what comes first. */
export const STATUS_TIMES = ['arrived', 'measured', 'proved', 'saved'] as const;
/** The time from the first arrival until now in so many steps. */
export const TIME_STEPS = 24;

/** `exact`: false where it was counted in a part of many, and raised to the whole. */
const exact = z.boolean();
const valued = z.object({
  exact,
  values: z.array(z.object({ value: z.string(), count: z.number() })),
});

/** The Shelf as a whole: what a query finds, by each measure without what the query says of that measure itself. */
export const shelfOverview = z.object({
  /** `bins`: as `tempoBin` has them; what is slower or faster is counted beside them. */
  tempi: z.object({
    exact,
    bins: z.array(z.number()).length(TEMPO_BINS.count),
    slower: z.number(),
    faster: z.number(),
    without: z.number(),
  }),
  /** By the number of a key. */
  keys: z.object({ exact, counts: z.array(z.number()).length(24), without: z.number() }),
  kinds: valued,
  parts: valued,
  /** Of the whole library, the bin apart: how many there were after each step. */
  time: z.object({
    exact,
    from: z.iso.datetime(),
    to: z.iso.datetime(),
    counts: z.record(z.enum(STATUS_TIMES), z.array(z.number()).length(TIME_STEPS)),
  }),
});
export type ShelfOverview = z.infer<typeof shelfOverview>;
