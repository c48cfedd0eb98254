import { z } from 'zod';
import { sampleEntry } from './entry';
import { errorsLeft, errorsLeftQuery } from './errorsLeft';
import { shelfOverview } from './overview';
import { intakeCounts, intakeQuery, samplePage, shelfFacets, shelfQuery } from './shelfQuery';

/** An address for scripts: what it is asked by and what it answers with. */
export interface Address {
  /** `{sample}` is a sample's number. */
  path: string;
  about: string;
  query?: z.ZodObject;
  /** The schema of its JSON, or the media types of bytes. */
  answer: z.ZodType | readonly string[];
  /** Of a standard that has a media type of its own. */
  mediaType?: string;
}

/** A page of the Shelf is a part of what is counted or written out as a whole. */
const wholeShelf = shelfQuery.omit({ offset: true, limit: true, of: true });

/** How the table of the Shelf is asked: `search` is understood as what is typed into its search. */
export const tableQuery = wholeShelf.extend({
  search: z.string().max(200).optional(),
  as: z.enum(['csv', 'jsonl']).default('csv'),
});

/** Annotations by the standard (JAMS); only what every reader looks for is said here. */
const jams = z.looseObject({
  annotations: z.array(
    z.looseObject({ namespace: z.string(), data: z.array(z.looseObject({ time: z.number() })) }),
  ),
  file_metadata: z.looseObject({ duration: z.number() }),
});

/** Every address that scripts may count on, as `docs/api.md` lists them. */
export const ADDRESSES: readonly Address[] = [
  {
    path: '/api/shelf/table',
    about: 'All that a search of the Shelf finds, one sample a line.',
    query: tableQuery,
    answer: ['text/csv', 'application/jsonl'],
  },
  {
    path: '/api/shelf',
    about: 'A page of the Shelf; `total` comes with the first.',
    query: shelfQuery,
    answer: samplePage,
  },
  {
    path: '/api/shelf/overview',
    about: 'Counts by tempo, key, kind and part, and the library over time.',
    query: wholeShelf,
    answer: shelfOverview,
  },
  {
    path: '/api/shelf/facets',
    about: 'Counts of every tag and measure.',
    query: wholeShelf,
    answer: shelfFacets,
  },
  { path: '/api/samples', about: 'A page of the Intake.', query: intakeQuery, answer: samplePage },
  {
    path: '/api/samples/counts',
    about: 'How many samples wait for what.',
    query: intakeQuery.pick({ kind: true, text: true }),
    answer: intakeCounts,
  },
  {
    path: '/api/samples/errors',
    about: 'How many measured values are expected to be wrong.',
    query: errorsLeftQuery,
    answer: errorsLeft,
  },
  {
    path: '/api/samples/{sample}',
    about: 'All of a sample: readings, settled values, proofs, history.',
    answer: sampleEntry,
  },
  {
    path: '/api/samples/{sample}/jams',
    about: 'Its beats, bars, tempo, key and hits (JAMS).',
    answer: jams,
    mediaType: 'application/vnd.jams+json',
  },
  {
    path: '/api/samples/{sample}/original',
    about: 'Its bytes as they arrived; ranges are understood.',
    answer: ['audio/*'],
  },
  {
    path: '/api/samples/{sample}/tagged',
    about: 'A copy with tempo and key in its tags.',
    answer: ['audio/*'],
  },
];
