import { archiveTicket, MOST_TAKEN_AWAY, type ArchiveRequest } from '@/contract/archives';
import { call, json } from './request';
import { originalUrl, taggedUrl } from './samples';

/** Takes samples away: one as a file, several as an archive. Throws RefusedError with a sentence. */
export async function takeAway(sampleIds: readonly string[], as: ArchiveRequest['as']): Promise<void> {
  if (sampleIds.length === 0) return;
  if (sampleIds.length > MOST_TAKEN_AWAY)
    throw new Error(`At most ${MOST_TAKEN_AWAY.toLocaleString('en')} samples can be downloaded at once.`);
  if (sampleIds.length === 1)
    return fetchFile(as === 'original' ? originalUrl(sampleIds[0]) : taggedUrl(sampleIds[0]));
  const { key } = await call(archiveTicket, '/api/archives', json('POST', { sampleIds, as }));
  fetchFile(`/api/archives/${key}`);
}

/** Lets the browser download what is at an address. */
function fetchFile(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
