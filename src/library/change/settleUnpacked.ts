import type { OwnFile } from '../packs/own';
import type { Draft } from './draft';

/** What a pack knows of a sample that came out of it. */
export interface Unpacked {
  sampleId: string;
  own: OwnFile;
}

/**
 * Settles what a pack knows of a sample: readings that measuring did not make, all that was settled, and proofs of the very bytes that it
 * was written from, each signed as it was, and through the pack. Nothing where a curator has settled it already.
 */
export function settleUnpacked(draft: Draft, { sampleId, own }: Unpacked): void {
  if (draft.sample(sampleId).byCurator) return;
  const { name, settled, readings, proofs, sha256 } = own;
  const isChosen = (readingId: string) => Object.values(settled.chosen).includes(readingId);
  const told = readings.filter(({ readingId, source }) => source !== 'detector' || isChosen(readingId));
  const numbers = new Map(
    draft.read(sampleId, told).map(({ readingId }, i) => [told[i].readingId, readingId]),
  );
  const chosen = Object.fromEntries(
    Object.entries(settled.chosen).flatMap(([property, readingId]) => {
      const now = readingId && numbers.get(readingId);
      return now ? [[property, now]] : [];
    }),
  );
  // Its file is named by the pack's template; it goes by the name that it had.
  const title = name === draft.sample(sampleId).arrivedAs ? null : name;
  draft.revise(sampleId, { ...settled, title, chosen }, 'as its pack says');
  draft.flag(sampleId, { savedAt: draft.now });
  const { current, sha256: here } = draft.sample(sampleId);
  for (const { audioSha256, grid, places, verdict, byEar, signedBy, signedAt } of [...proofs].reverse())
    if (audioSha256 === sha256)
      draft.prove(sampleId, {
        ...{ sequence: current!.sequence, grid, audioSha256: here, places, verdict, byEar, signedAt },
        signedBy: THROUGH.test(signedBy) ? signedBy : `${signedBy}, through a pack`,
      });
}

const THROUGH = /, through a pack$/;
