'use client';
import { PACKS } from '../api/packs';
import { SteppedList } from '../stepped/SteppedList';

/** All packs, those changed last first. */
export function PackList() {
  return (
    <SteppedList
      calls={PACKS}
      title="Packs"
      about="Samples that are gathered and written out together: under names that a template gives, with tags, at a tempo or key, with click and tempo map, a table, licences and checksums."
      none="There is no pack yet. Make one, or choose samples on the Shelf and press K."
      rowOf={({ packId, samples, writtenAt, ...row }) => ({
        ...row,
        id: packId,
        holds: writtenAt
          ? `written ${new Date(writtenAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}`
          : 'not written yet',
        figure: samples === 0 ? 'empty' : `${samples} ${samples === 1 ? 'sample' : 'samples'}`,
      })}
    />
  );
}
