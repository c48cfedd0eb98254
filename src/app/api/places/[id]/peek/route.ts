import { peekInto } from '@/server/places';
import { numberOf, respond } from '../../../respond';

/** Length and waveform of a file in the place: `?path=`. */
export const GET = respond<{ id: string }>(async (request, { id }) =>
  Response.json(await peekInto(numberOf(id, 'folder'), new URL(request.url).searchParams.get('path') ?? '')),
);
