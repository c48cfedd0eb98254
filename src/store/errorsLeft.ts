import { guessSums, LOOKED_AT_FIRST, type Guessed, type GuessSums } from '@/contract/errorsLeft';
import { database } from './database';
import { fromRow } from './rows';

/** Rows have a confidence where measuring alone says the value: what is proved, chosen or accepted has none. */
export const GUESS: Record<Guessed, string> = {
  tempo: "s.binned_at is null and s.kind <> 'oneshot' and s.tempo_sureness is not null",
  key: "s.binned_at is null and s.kind <> 'oneshot' and s.key_sureness is not null",
};
const COLUMN: Record<Guessed, string> = { tempo: 's.tempo_sureness', key: 's.key_sureness' };

/** The sums of all guesses, or of those on the Shelf. */
export async function guessSumsOf(guessed: Guessed, of: 'all' | 'saved'): Promise<GuessSums> {
  const where = `${GUESS[guessed]}${of === 'saved' ? ' and s.saved_at is not null' : ''}`;
  const missing = `(1 - ${COLUMN[guessed]})::double precision`;
  const { rows } = await database().query(
    `select count(*)::integer as guesses, coalesce(sum(${missing}), 0) as missing,
            coalesce(sum(${missing} * (1 - ${missing})), 0) as variance,
            (select coalesce(sum(x.missing), 0) from
               (select ${missing} as missing from settled s where ${where} order by ${COLUMN[guessed]} limit $1) x) as "missingInFirst",
            least($1, count(*))::integer as first
       from settled s where ${where}`,
    [LOOKED_AT_FIRST],
  );
  return fromRow(guessSums, rows[0], 'sums of guesses');
}
