import type pg from 'pg';
import { bulkRequest, type BulkAction, type BulkResult, type BulkSteps } from '@/core/library/intake';
import { settleReadings, withItsGrid } from '@/core/library/applyReading';
import type { SettledState } from '@/core/library/settled';
import { nameFromTemplate } from '@/core/library/nameTemplate';
import { scalePinned } from '@/core/rhythm/pins';
import * as steps from '@/store/bulkSteps';
import { database, transaction } from '@/store/database';
import { cancelMeasurement, enqueueMeasurement } from '@/store/jobs';
import { announceSample } from '@/store/notifications';
import { addReadings, readingsOf } from '@/store/readings';
import { addRevision, readRevision, stepRevision } from '@/store/revisions';
import { readSample, readSummary, setRemoved } from '@/store/samples';
import { log } from './log';
import { afterChange } from './settle';
import { UserError } from './userError';

/** Does one thing to many samples, each by itself: those that it cannot be done to are named with the reason. */
export async function doInBulk(input: unknown): Promise<BulkResult> {
  const { action, sampleIds, stepId } = bulkRequest.parse(input);
  const refused: BulkResult['refused'] = [];
  const items: steps.BulkItem[] = [];
  for (const sampleId of sampleIds) {
    try {
      const item = await transaction((client) => doTo(client, sampleId, action));
      if (item) items.push(item);
    } catch (error) {
      if (!(error instanceof UserError)) throw error;
      const summary = await readSummary(database(), sampleId);
      refused.push({ name: summary?.name ?? sampleId, why: error.message });
    }
  }
  const words = wordsOf(action);
  const step = stepId ?? (await steps.beginStep(words, action));
  await steps.addToStep(step, items);
  log.info({ event: 'bulk', words, step, done: items.length, refused: refused.length });
  return { stepId: step, words, done: items.length, refused };
}

async function doTo(
  client: pg.PoolClient,
  sampleId: string,
  action: BulkAction,
): Promise<steps.BulkItem | null> {
  const sample = await readSample(client, sampleId);
  if (!sample) throw new UserError('It is no longer there.', 404);
  if (action.do === 'bin' || action.do === 'restore') {
    const binned = action.do === 'bin';
    if (sample.removed === binned) return null;
    if (binned) await cancelMeasurement(sampleId);
    await setRemoved(client, sampleId, binned);
    await announceSample(client, { sampleId, what: binned ? 'removed' : 'arrived' });
    return { sampleId, made: null, binned };
  }
  if (action.do === 'measure') {
    await enqueueMeasurement(client, sampleId, { range: action.range, meter: action.meter }, 10);
    await announceSample(client, { sampleId, what: 'changed' });
    return { sampleId, made: null, binned: null };
  }
  if (sample.currentSequence === null) throw new UserError('It is not measured yet.', 422);
  const { state } = (await readRevision(client, sampleId, sample.currentSequence))!;
  const patch = await patchFor(client, sampleId, action, state);
  if (!patch) return null;
  const made = await addRevision(
    client,
    sampleId,
    sample.currentSequence,
    { ...state, ...patch },
    wordsOf(action),
    'curator',
  );
  await afterChange(client, sampleId);
  return { sampleId, made, binned: null };
}

/** What becomes of the settled state; null when nothing does. Throws UserError when it cannot be done. */
async function patchFor(
  client: pg.PoolClient,
  sampleId: string,
  action: Exclude<BulkAction, { do: 'bin' | 'restore' | 'measure' }>,
  state: SettledState,
): Promise<Partial<SettledState> | null> {
  switch (action.do) {
    case 'accept': {
      if (state.accepted) return null;
      const { tempoSureness, keySureness, fault } = (await readSummary(client, sampleId))!;
      if (fault) throw new UserError('It cannot be read; there is nothing to accept.', 422);
      const sureness = tempoSureness ?? keySureness ?? 0;
      if (action.above !== null && sureness < action.above) return null;
      return { accepted: true };
    }
    case 'scale': {
      const { grid, pins } = state;
      if (!grid) throw new UserError('It has no tempo.', 422);
      const next = scalePinned({ grid, pins }, action.ratio);
      const { tempoBpm } = next.grid;
      if (tempoBpm < 10 || tempoBpm > 1000)
        throw new UserError(`${Math.round(tempoBpm)} BPM is no tempo that Grento knows.`, 422);
      const [reading] = await addReadings(client, sampleId, [
        { property: 'tempo', value: tempoBpm, source: 'typed', sureness: 0.9, detail: wordsOf(action) },
      ]);
      return { grid: next.grid, pins: [...next.pins], chosen: { ...state.chosen, tempo: reading.readingId } };
    }
    case 'choose': {
      const readings = (await readingsOf(client, sampleId)).filter(({ superseded }) => !superseded);
      const wanted = readings.filter(
        ({ source, property, rank }) =>
          source === action.source && rank === 0 && (property === 'tempo' || property === 'key'),
      );
      if (wanted.length === 0) throw new UserError(`No ${action.source} says its tempo or key.`, 422);
      const { measurement } = (await readSample(client, sampleId))!;
      const whole = wanted.flatMap((reading) => withItsGrid(reading, readings));
      return settleReadings(state, whole, measurement);
    }
    case 'tags': {
      const same = (a: SettledState['tags'][number]) => (b: SettledState['tags'][number]) =>
        a.facet === b.facet && a.value === b.value;
      const kept = state.tags.filter((tag) => !action.remove.some(same(tag)));
      const tags = [...kept, ...action.add.filter((tag) => !kept.some(same(tag)))];
      if (tags.length > 60) throw new UserError('A sample has at most 60 tags.', 422);
      return JSON.stringify(tags) === JSON.stringify(state.tags) ? null : { tags };
    }
    case 'rename': {
      const summary = (await readSummary(client, sampleId))!;
      const { name, fault } = nameFromTemplate(action.template, { ...summary, tags: state.tags });
      if (fault) throw new UserError(fault, 422);
      return name === summary.name ? null : { title: name };
    }
    case 'kind':
      return state.kind === action.kind ? null : { kind: action.kind };
  }
}

/** As the history and the list of steps say it. */
function wordsOf(action: BulkAction): string {
  switch (action.do) {
    case 'accept':
      return action.above === null ? 'accepted' : `accepted above ${Math.round(100 * action.above)} %`;
    case 'scale':
      return action.ratio === 2
        ? 'double tempo'
        : action.ratio === 0.5
          ? 'half tempo'
          : `tempo × ${action.ratio}`;
    case 'choose':
      return `${action.source} chosen`;
    case 'measure':
      return action.range
        ? `measured again between ${action.range.low} and ${action.range.high} BPM`
        : action.meter
          ? `measured again in ${action.meter.beatsPerBar}/${action.meter.beatUnit}`
          : 'measured again';
    case 'tags':
      return [
        action.add.length > 0 && `tagged ${action.add.map(({ value }) => value).join(', ')}`,
        action.remove.length > 0 && `without ${action.remove.map(({ value }) => value).join(', ')}`,
      ]
        .filter(Boolean)
        .join('; ')
        .slice(0, 300);
    case 'rename':
      return 'renamed';
    case 'kind':
      return action.kind ? `set to ${action.kind}` : 'kind as measured';
    case 'bin':
      return 'put into the bin';
    case 'restore':
      return 'restored from the bin';
  }
}

/** The newest step that can be taken back. */
export async function bulkStepsNow(): Promise<BulkSteps> {
  return { undo: await steps.newestStep() };
}

/** Takes a step back where its samples were not changed since; returns how many were. */
export async function undoBulk(
  stepId: number,
): Promise<{ undone: number; changedSince: number; words: string }> {
  const step = await steps.takeStep(stepId);
  if (!step) throw new UserError('This step was taken back already.', 409);
  let undone = 0;
  let changedSince = 0;
  for (const { sampleId, made, binned } of step.items) {
    await transaction(async (client) => {
      if (binned !== null) {
        await setRemoved(client, sampleId, !binned);
        await announceSample(client, { sampleId, what: binned ? 'arrived' : 'removed' });
        undone++;
      } else if (made !== null) {
        const sample = await readSample(client, sampleId);
        if (sample?.currentSequence !== made) {
          changedSince++;
          return;
        }
        await stepRevision(client, sampleId, 'undo');
        await afterChange(client, sampleId);
        undone++;
      }
    });
  }
  return { undone, changedSince, words: step.words };
}
