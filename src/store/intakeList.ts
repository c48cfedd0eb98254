import type { Target } from '@/contract/orders';
import { DOUBT_BITS, NEED_SORTS, needBit, TO_DO_BITS } from '@/contract/doubt';
import type { IntakeCounts, IntakeQuery, SamplePage } from '@/contract/shelfQuery';
import { database } from './database';
import { page, targetsInOrder, type Choice } from './lists';
import { GUESS } from './errorsLeft';
import { conditionOf, understood, type Understood } from './searchWords';

const IS_OPEN = `exists (select from tasks t where t.sample_id = s.sample_id and t.kind = 'measure' and t.state in ('waiting', 'running'))`;

/** As ranges of the index by standing. */
const NOT_SAVED = "s.binned_at is null and s.standing in ('arrived', 'measured', 'proved')";

const SHOW: Record<IntakeQuery['show'], string> = {
  all: 's.binned_at is null',
  'needs a look': `s.binned_at is null and (s.doubt_sorts <> 0 or s.faulty) and (s.doubt_sorts & ${DOUBT_BITS} <> 0 or s.faulty) and s.standing <> 'saved'`,
  'to do': `s.binned_at is null and s.doubt_sorts <> 0 and s.doubt_sorts & ${TO_DO_BITS} <> 0 and s.standing <> 'saved'`,
  ...(Object.fromEntries(
    NEED_SORTS.map((sort) => [
      sort,
      // Said twice for the index of uncertain ones, which knows only whether there is any.
      `s.binned_at is null and s.doubt_sorts <> 0 and s.doubt_sorts & ${needBit(sort)} <> 0 and s.standing <> 'saved'`,
    ]),
  ) as Record<(typeof NEED_SORTS)[number], string>),
  sure: `s.binned_at is null and s.doubt_sorts & ${DOUBT_BITS} = 0 and not s.faulty and s.standing = 'measured'`,
  // Saved ones as well: they are what an upgrade is compared with.
  'measured anew': `s.binned_at is null and s.doubt_sorts & ${needBit('measured anew')} <> 0`,
  'measured tempo': GUESS.tempo,
  'measured key': GUESS.key,
  measuring: `s.binned_at is null and ${IS_OPEN}`,
  faulty: 's.binned_at is null and s.faulty',
  'not saved': NOT_SAVED,
  saved: `s.binned_at is null and s.standing = 'saved'`,
  bin: 's.binned_at is not null and not exists (select from samples x where x.sample_id = s.sample_id and x.merged_into is not null)',
};

const INTAKE_ORDERS: Record<IntakeQuery['sort'], string> = {
  arrived: 'arrived_at',
  name: 'sort_name',
  kind: 'kind',
  length: 'duration_seconds',
  tempo: 'tempo_bpm',
  key: 'key_number',
  standing: 'standing',
  need: 'urgency',
  'tempo confidence': 'tempo_sureness',
  'key confidence': 'key_sureness',
};

/** One page of the Intake. */
export async function intakePage(query: IntakeQuery): Promise<SamplePage> {
  const words = await understood(query.text);
  const order = { column: INTAKE_ORDERS[query.sort], direction: query.direction };
  return page(intakeChoice(query, words, SHOW[query.show]), order, query, words);
}

/** The numbers and revisions of all samples that a query of the Intake finds, in its order. */
export async function intakeTargets(query: IntakeQuery): Promise<Target[]> {
  const choice = intakeChoice(query, await understood(query.text), SHOW[query.show]);
  return targetsInOrder(choice, { column: INTAKE_ORDERS[query.sort], direction: query.direction }, 1_000_000);
}

/** How many samples there are under each choice of `show`, how many sets are proposed, and how many pairs are alike. */
export async function intakeCounts(query: IntakeQuery): Promise<IntakeCounts> {
  const words = await understood(query.text);
  const counted = async (show: string): Promise<number> => {
    const { where, values } = intakeChoice(query, words, show);
    const { rows } = await database().query(
      `select count(*) as count from settled s where ${where.join(' and ')}`,
      values,
    );
    return rows[0].count;
  };
  const groups = async () => {
    const { where, values } = intakeChoice(query, words, NOT_SAVED);
    const { rows } = await database().query(
      `select s.standing, s.faulty, s.doubt_sorts as doubts, count(*) as count from settled s
        where ${where.join(' and ')} group by 1, 2, 3`,
      values,
    );
    return rows as { standing: string; faulty: boolean; doubts: number; count: number }[];
  };
  // The two long ones one after the other: beside each other both would take twice as long.
  const open = await groups();
  const [saved, faulty, bin, measuring, anew, { rows: beside }] = await Promise.all([
    counted(SHOW.saved),
    counted(SHOW.faulty),
    counted(SHOW.bin),
    counted(SHOW.measuring),
    counted(SHOW['measured anew']),
    database().query(
      `select (select count(*) from stem_sets where state = 'proposed') as sets,
              (select count(*) from likenesses l join settled x on x.sample_id = l.a join settled y on y.sample_id = l.b
                where l.state = 'open' and x.binned_at is null and y.binned_at is null) as pairs`,
    ),
  ]);
  const sum = (counts: (group: (typeof open)[number]) => boolean) =>
    open.reduce((all, group) => (counts(group) ? all + group.count : all), 0);
  return {
    all: sum(() => true) + saved,
    'needs a look': sum(({ doubts, faulty }) => (doubts & DOUBT_BITS) !== 0 || faulty),
    'to do': sum(({ doubts }) => (doubts & TO_DO_BITS) !== 0),
    ...Object.fromEntries(
      NEED_SORTS.map((sort) => [sort, sum(({ doubts }) => (doubts & needBit(sort)) !== 0)]),
    ),
    sure: sum((group) => (group.doubts & DOUBT_BITS) === 0 && !group.faulty && group.standing === 'measured'),
    measuring,
    faulty,
    'not saved': sum(() => true),
    saved,
    bin,
    'measured anew': anew,
    'proposed stem sets': beside[0].sets,
    'alike pairs': beside[0].pairs,
  };
}

function intakeChoice({ kind }: Pick<IntakeQuery, 'kind'>, words: Understood, show: string): Choice {
  const values: unknown[] = [];
  const where = [show];
  // Each by itself: the index of letters does not see into an array.
  for (const word of words.words) where.push(conditionOf(word, (value) => `$${values.push(value)}`));
  if (kind !== '') where.push(`s.kind = $${values.push(kind)}`);
  return { where, values };
}
