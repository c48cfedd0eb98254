import { tempoMapFile } from '@/server/blends';
import { attachment, idOf, respond } from '../../../respond';

/** Tempo, bars and click of a blend as a Standard MIDI File. */
export const GET = respond<{ id: string }>(async (_, params) => {
  const { name, bytes } = await tempoMapFile(idOf(params, 'blend'));
  return new Response(Buffer.from(bytes), {
    headers: { 'content-type': 'audio/midi', 'content-disposition': attachment(name) },
  });
});
