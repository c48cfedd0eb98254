import { database } from './database';
import { isMade } from './recipes';

/** More say nothing else. */
const MOST = 2000;

/**
 * Tempi of proved samples, BPM. What lies in one folder at one tempo was made together and counts once; one-shots have none, and what was
 * made here says only what it was made to.
 */
export async function readProvedTempi(): Promise<number[]> {
  const { rows } = await database().query(
    `select distinct x.folder, round(s.tempo_bpm::numeric, 1)::double precision as bpm
       from settled s join samples x using (sample_id)
      where s.proof = 'current' and s.binned_at is null and s.kind <> 'oneshot' and s.tempo_bpm is not null
        and not ${isMade('s.sample_id')}
      limit ${MOST}`,
  );
  return rows.map(({ bpm }: { bpm: number }) => bpm);
}
