import type { z } from 'zod';
import { storedProof, type StoredProof } from '@/core/library/entry';
import { sameGrid, type Grid } from '@/core/rhythm/grid';
import type { Queryable } from './database';

type NewProof = Omit<z.infer<typeof storedProof>, 'proofId' | 'signedAt' | 'current'>;

export async function addProof(on: Queryable, sampleId: string, proof: NewProof): Promise<void> {
  await on.query(
    `insert into proofs (sample_id, sequence, grid, audio_sha256, places, verdict, by_ear, signed_by)
     values ($1, $2, $3, $4, $5, $6, $7, $8)`,
    [
      sampleId,
      proof.sequence,
      JSON.stringify(proof.grid),
      proof.audioSha256,
      JSON.stringify(proof.places),
      proof.verdict,
      proof.byEar,
      proof.signedBy,
    ],
  );
}

/** All proofs of a sample, newest first; `current` says whether grid and audio are still those vouched for. */
export async function proofsOf(
  on: Queryable,
  sampleId: string,
  grid: Grid | null,
  sha256: string,
): Promise<StoredProof[]> {
  const { rows } = await on.query(
    `select proof_id as "proofId", sequence, grid, audio_sha256 as "audioSha256", places, verdict,
            by_ear as "byEar", signed_by as "signedBy", signed_at as "signedAt"
       from proofs where sample_id = $1 order by proof_id desc`,
    [sampleId],
  );
  return rows.map((row) => {
    const current = grid !== null && row.audioSha256 === sha256 && sameGrid(row.grid, grid);
    return storedProof.parse({ ...row, current });
  });
}
