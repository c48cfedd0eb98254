import { annotationsOf } from '@/server/entry';
import { respond, sampleIdOf } from '../../../respond';

/** Beats, bars, tempo, key and hits as annotations by the standard. */
export const GET = respond<{ id: string }>(async (_request, params) =>
  Response.json(await annotationsOf(sampleIdOf(params)), {
    headers: { 'content-type': 'application/vnd.jams+json' },
  }),
);
