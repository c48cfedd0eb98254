import { z } from 'zod';
import { keyValue } from '@/core/harmony/keyValue';
import { LEVELS } from '@/core/timeStretch/proposal';
import { BLEND_TEMPI } from './blend';

const level = z
  .number()
  .refine((value) => LEVELS.some((one) => one === value), 'as written, half, double, or three against two');

/** How a sample is to be brought to a target from now on; both null: as it is proposed. */
export const choiceRequest = z.object({
  target: z.object({
    tempoBpm: z.number().min(BLEND_TEMPI.least).max(BLEND_TEMPI.most).nullable(),
    key: keyValue.nullable(),
    isTape: z.boolean(),
  }),
  level: level.nullable(),
  semitones: z.int().min(-24).max(24).nullable(),
});
export type ChoiceRequest = z.infer<typeof choiceRequest>;
