'use client';
import { counted } from '@/words/plural';
import { PACKS } from '../api/packs';
import { DocumentList } from '../documents/DocumentList';

/** All packs, those changed last first. */
export function PackList() {
  return (
    <DocumentList
      calls={PACKS}
      title="Packs"
      about="Samples that are written out together: named by a template, tagged, at their own or one common tempo and key, with click, tempo map, table, licences and checksums."
      none="No packs yet. Create one, or select samples on the Shelf and press K."
      rowOf={({ packId, samples, writtenAt, ...row }) => ({
        ...row,
        id: packId,
        holds: writtenAt
          ? `written ${new Date(writtenAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}`
          : 'not written yet',
        figure: samples === 0 ? 'empty' : counted(samples, 'sample'),
      })}
    />
  );
}
