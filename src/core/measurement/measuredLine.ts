import { z } from 'zod';
import { AUDIO_FORMATS } from '../formats/audioFormat';
import { measurement } from './schema';

const measured = measurement.omit({ onsets: true }).extend({
  /** As it was given on the command line. */
  file: z.string(),
  format: z.enum(AUDIO_FORMATS),
  sampleRate: z.int().positive(),
  channels: z.int().positive(),
  /** What was odd about the file but did not prevent measuring, in sentences. */
  warnings: z.array(z.string()),
  millisecondsSpent: z.object({ decode: z.number().nonnegative(), measure: z.number().nonnegative() }),
});

const failed = z.object({
  file: z.string(),
  /** A sentence that says why this file was not measured. */
  error: z.string().min(1),
});

/** One line of the measuring command's output: a measured file, or why it could not be measured. */
export const measuredLine = z.union([measured, failed]);
export type MeasuredLine = z.infer<typeof measuredLine>;

/** The schema of a line as JSON Schema (draft 2020-12), as it stands in docs/measurement.schema.json. */
export function measuredLineSchema(): object {
  return z.toJSONSchema(measuredLine);
}
