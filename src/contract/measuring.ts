import { z } from 'zod';
import { meterValue } from '@/core/rhythm/grid';
import { tempoRange } from './settings';

/** How a sample is to be measured. */
export const measureRequest = z.object({
  /** null: the library's custom. */
  range: tempoRange.nullable().default(null),
  meter: meterValue.nullable().default(null),
});
export type MeasureRequest = z.infer<typeof measureRequest>;
