import { z } from 'zod';
import { packTarget } from './pack';
import { MOST_RENDERS } from './renders';

/** So many names are shown beforehand. */
export const MOST_NAMES_SHOWN = 200;

/** Names that are asked for before anything is called so: of samples that are renamed, or (with a target) of what is rendered of them. */
export const namesRequest = z.object({
  sampleIds: z.array(z.uuid()).min(1).max(MOST_RENDERS),
  template: z.string().max(200),
  target: packTarget.nullable().default(null),
});
export type NamesRequest = z.input<typeof namesRequest>;

/** What each is called now and would be then; `after` null: it stays as it is, or `fault` says why there is no name. */
export const namesAnswer = z.object({
  rows: z.array(
    z.object({
      sampleId: z.uuid(),
      before: z.string(),
      after: z.string().nullable(),
      fault: z.string().nullable(),
      /** Another one of them would be called the same. */
      isDouble: z.boolean(),
    }),
  ),
});
export type NamesAnswer = z.infer<typeof namesAnswer>;
