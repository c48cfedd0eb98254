import { engineState, measureRequest, type EngineState } from '@/contract/measuring';
import { ENGINE } from '@/core/measurement/engine';
import { database, type Queryable } from './database';
import { announceTasks } from './notifications';
import { isMade } from './recipes';
import { fromRow } from './rows';
import { TASK_VERSION } from './tasks';

/** Behind whatever arrives. */
const COMPARED_LAST = -1;

/** What an older engine measured: not what lies in the bin, and not what was made, whose values are those of its recipe. */
const OLDER = `samples x where x.measurement is not null and x.engine < ${ENGINE.version}
    and not exists (select from settled s where s.sample_id = x.sample_id and s.binned_at is not null) and not ${isMade('x.sample_id')}`;

/** How far comparing is; what an older engine measured is counted only while nothing is compared. */
export async function engineNow(): Promise<EngineState> {
  const { rows } = await database().query(
    `with open as materialized (
       select count(*)::integer as comparing from tasks
        where kind = 'measure' and state in ('waiting', 'running') and payload @> '{"isComparison": true}')
     select comparing, case when comparing = 0 then (select count(*)::integer from ${OLDER}) end as older from open`,
  );
  return fromRow(engineState, rows[0], 'engine');
}

/** Puts all that an older engine measured into the queue, behind all else; what waits there already is measured as it was asked for. */
export async function enqueueComparisons(on: Queryable): Promise<number> {
  const { rowCount } = await on.query(
    `insert into tasks (kind, sample_id, payload, version, priority)
     select 'measure', x.sample_id, $1, ${TASK_VERSION}, ${COMPARED_LAST} from ${OLDER}
     on conflict (sample_id) where kind = 'measure' and state in ('waiting', 'running') do nothing`,
    [JSON.stringify(measureRequest.parse({ isComparison: true }))],
  );
  await announceTasks(on);
  return rowCount ?? 0;
}

/** Takes the comparisons that have not begun out of the queue. */
export async function cancelComparisons(on: Queryable): Promise<number> {
  const { rowCount } = await on.query(
    `update tasks set state = 'cancelled', ended_at = now()
      where kind = 'measure' and state = 'waiting' and payload @> '{"isComparison": true}'`,
  );
  await announceTasks(on);
  return rowCount ?? 0;
}
