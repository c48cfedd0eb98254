'use client';
import { useQuery } from '@tanstack/react-query';
import { STORED_AS, type StorageState, type StoredAs } from '@/contract/storage';
import { bytesInWords } from '@/words/bytes';
import { counted } from '@/words/plural';
import { fetchStorage } from '../api/storage';
import { Awaited } from '../kit/States';

const NAMES: Record<StoredAs, string> = {
  imported: 'Imported files',
  rendered: 'Rendered and mixed files',
  listening: 'Copies for listening',
  packs: 'Files of packs',
  arriving: 'Archives being imported',
  unused: 'Unused, removed within an hour',
};
/** A backup older than this is told as old, days. */
const OLD = 14;

/** What the library takes up on the disk, and its newest backup. */
export function Storage() {
  const asked = useQuery({ queryKey: ['storage'], queryFn: ({ signal }) => fetchStorage(signal) });
  if (!asked.data) return <Awaited of={asked} what="storage" />;
  const { stored, databaseBytes, freeBytes } = asked.data;
  return (
    <>
      <table className="w-full border border-rule bg-sheet text-small">
        <tbody>
          {STORED_AS.map((as) => {
            const { files, bytes } = stored[as] ?? { files: 0, bytes: 0 };
            return files > 0 || as === 'imported' ? (
              <Row key={as} name={NAMES[as]} count={counted(files, 'file')} size={bytesInWords(bytes)} />
            ) : null;
          })}
          <Row name="Database, with these files" size={bytesInWords(databaseBytes)} />
          {freeBytes !== null && <Row name="Free on its disk" size={bytesInWords(freeBytes)} />}
        </tbody>
      </table>
      <LastBackup of={asked.data.lastBackup} />
    </>
  );
}

function Row({ name, count = '', size }: { name: string; count?: string; size: string }) {
  return (
    <tr className="border-b border-rule last:border-b-0">
      <th scope="row" className="px-3 py-1.5 text-left font-normal">
        {name}
      </th>
      <td className="figures px-3 text-right text-ink-soft">{count}</td>
      <td className="figures w-32 px-3 text-right">{size}</td>
    </tr>
  );
}

function LastBackup({ of }: { of: StorageState['lastBackup'] }) {
  const command = <code className="figures">npm run backup -- FOLDER</code>;
  if (!of)
    return <p className="text-look">No backup yet. {command} writes one while Grento runs, and checks it.</p>;
  const began = new Date(of.beganAt);
  const isOld = of.age > OLD;
  return (
    <p>
      <span className={isOld || !of.verifiedAt ? 'text-look' : ''}>
        Last backup: {began.toLocaleString('en-GB', { dateStyle: 'long', timeStyle: 'short' })},{' '}
        {counted(of.samples, 'sample')}, {bytesInWords(of.bytes)},{' '}
        {of.verifiedAt ? 'verified' : 'not verified'}
        {isOld && ', more than two weeks ago'}.
      </span>{' '}
      <span className="figures break-all text-small">{of.file}</span>
      <br />
      {command} writes another one.
    </p>
  );
}
