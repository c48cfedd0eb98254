import type { OwnFile } from '../packs/own';
import type { ChangeSet } from './changeSet';

/** What a pack knows of a sample that came out of it. */
export interface Unpacked {
  sampleId: string;
  own: OwnFile;
}

/**
 * Settles what a pack knows of a sample: readings that measuring did not make, all that was settled, and proofs of the very bytes that it
 * was written from, each signed as it was, and through the pack. Nothing where a curator has settled it already.
 */
export function settleUnpacked(changeSet: ChangeSet, { sampleId, own }: Unpacked): void {
  if (changeSet.sample(sampleId).byCurator) return;
  const { name, settled, readings, proofs, sha256 } = own;
  const isChosen = (readingId: string) => Object.values(settled.chosen).includes(readingId);
  const told = readings.filter(({ readingId, source }) => source !== 'detector' || isChosen(readingId));
  const numbers = new Map(
    changeSet.read(sampleId, told).map(({ readingId }, i) => [told[i].readingId, readingId]),
  );
  const chosen = Object.fromEntries(
    Object.entries(settled.chosen).flatMap(([property, readingId]) => {
      const now = readingId && numbers.get(readingId);
      return now ? [[property, now]] : [];
    }),
  );
  // Its file is named by the pack's template; it goes by the name that it had.
  const title = name === changeSet.sample(sampleId).arrivedAs ? null : name;
  changeSet.revise(sampleId, { ...settled, title, chosen }, 'from its pack');
  changeSet.flag(sampleId, { savedAt: changeSet.now });
  const { current, sha256: here } = changeSet.sample(sampleId);
  for (const { audioSha256, grid, places, verdict, byEar, signedBy, signedAt } of [...proofs].reverse())
    if (audioSha256 === sha256)
      changeSet.prove(sampleId, {
        ...{ sequence: current!.sequence, grid, audioSha256: here, places, verdict, byEar, signedAt },
        signedBy: THROUGH.test(signedBy) ? signedBy : `${signedBy}, through a pack`,
      });
}

const THROUGH = /, through a pack$/;
