import type pg from 'pg';
import type { Choice } from '@/core/timeStretch/proposal';

/** Keeps what somebody chose for a sample at a target; nothing chosen is forgotten. */
export async function writeChoice(
  client: pg.PoolClient,
  sampleId: string,
  target: string,
  { level, semitones }: Choice,
): Promise<void> {
  await client.query('delete from target_choices where sample_id = $1 and target = $2', [sampleId, target]);
  if (level !== null || semitones !== null)
    await client.query(
      'insert into target_choices (sample_id, target, level, semitones) values ($1, $2, $3, $4)',
      [sampleId, target, level, semitones],
    );
}
