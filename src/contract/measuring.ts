import { z } from 'zod';
import { meterValue } from '@/core/rhythm/grid';
import { tempoRange } from './settings';

/** How a sample is to be measured. */
export const measureRequest = z.object({
  /** null: the library's custom. */
  range: tempoRange.nullable().default(null),
  meter: meterValue.nullable().default(null),
  /** What somebody says that the tempo is, and how sure that is. */
  expected: z
    .object({ bpm: z.number().min(10).max(1000), sureness: z.number().min(0).max(1) })
    .nullable()
    .default(null),
  /** Only to be held against what is settled: nothing is written but where it differs. */
  isComparison: z.boolean().default(false),
});
export type MeasureRequest = z.infer<typeof measureRequest>;

/** How many samples are still to be compared, and, while there are none, how many an older engine measured. */
export const engineState = z.object({
  comparing: z.number().int(),
  older: z.number().int().nullable(),
});
export type EngineState = z.infer<typeof engineState>;
