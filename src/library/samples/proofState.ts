import { sameGrid, type Grid } from '@/core/rhythm/grid';
import type { ProofState, StoredProof } from '@/contract/entry';

/** A check against the click as it is kept. */
export type Proof = Omit<StoredProof, 'current'>;

/** Whether a proof was made for exactly this grid over exactly these bytes. */
export function isOf(proof: Pick<Proof, 'grid' | 'audioSha256'>, grid: Grid | null, sha256: string): boolean {
  return grid !== null && proof.audioSha256 === sha256 && sameGrid(proof.grid, grid);
}

/**
 * The one rule for what is proved: the newest proof of the present grid and audio says "on". Where none does, but
 * one once did (for another grid, or before somebody heard the click early or late), the proof is lost.
 */
export function proofStateOf(
  newestFirst: readonly Proof[],
  grid: Grid | null,
  sha256: string,
): ProofState | null {
  const newest = newestFirst.find((proof) => isOf(proof, grid, sha256));
  if (newest?.verdict === 'on') return 'current';
  return newestFirst.some(({ verdict }) => verdict === 'on') ? 'lost' : null;
}
