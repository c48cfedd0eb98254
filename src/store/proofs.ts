import type pg from 'pg';
import { z } from 'zod';
import type { Writes } from '@/library/change/changeSet';
import { storedProof } from '@/contract/entry';
import type { Proof } from '@/library/samples/proofState';
import { fromRow, jsonTime } from './rows';

const VERSION = 1;

/** Proofs of the samples `ids` (an SQL expression) as a JSON array, newest first. */
export const proofsJson = (ids: string) => `(select coalesce(jsonb_agg(jsonb_build_object(
    'sampleId', sample_id, 'proofId', proof_id, 'sequence', sequence, 'grid', grid, 'audioSha256', audio_sha256, 'places', places,
    'verdict', verdict, 'byEar', by_ear, 'signedBy', signed_by, 'signedAt', signed_at) order by place desc), '[]')
  from proofs where sample_id = any(${ids}))`;

const proofJson = storedProof.omit({ current: true }).extend({ sampleId: z.uuid(), signedAt: jsonTime });

/** Proofs out of `proofsJson`, by sample. */
export function proofsBySample(json: unknown): Map<string, Proof[]> {
  const bySample = new Map<string, Proof[]>();
  for (const { sampleId, ...proof } of fromRow(z.array(proofJson), json, 'proof'))
    bySample.set(sampleId, [...(bySample.get(sampleId) ?? []), proof]);
  return bySample;
}

/** Adds proofs that a curator signs. */
export async function insertProofs(
  client: pg.PoolClient,
  proofs: Writes['proofs'],
  curatorId: string | null,
): Promise<void> {
  if (proofs.length === 0) return;
  await client.query(
    `insert into proofs (proof_id, sample_id, sequence, grid, audio_sha256, places, verdict, by_ear, signed_by, signed_at, curator_id, version)
     select "proofId", "sampleId", sequence, grid, "audioSha256", places, verdict, "byEar", "signedBy", "signedAt", $2, ${VERSION}
       from jsonb_to_recordset($1) as p ("proofId" uuid, "sampleId" uuid, sequence integer, grid jsonb, "audioSha256" text,
                                         places jsonb, verdict text, "byEar" boolean, "signedBy" text, "signedAt" timestamptz)`,
    [JSON.stringify(proofs), curatorId],
  );
}
