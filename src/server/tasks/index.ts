import { z } from 'zod';
import { measureRequest } from '@/contract/measuring';
import { taskMove, type LongTask, type MeasuringState } from '@/contract/tasks';
import { database, transaction } from '@/store/database';
import { announceProgress, announceSamples } from '@/store/notifications';
import { forgetTask, listLongTasks, moveTask } from '@/store/longTasks';
import * as store from '@/store/tasks';
import { ASKED_FOR } from '../change/bulk';
import { changeInside } from '../change';
import { readSampleFile } from '@/store/samples';
import { notFound, UserError } from '../userError';

/** Ahead of what only arrived, behind what somebody asked for. */
const IN_SIGHT = 5;

/** What goes on: measuring as a whole, and long tasks one by one. */
export async function tasksNow(): Promise<{ measuring: MeasuringState; tasks: LongTask[] }> {
  const [measuring, tasks] = await Promise.all([store.measuringState(), listLongTasks()]);
  return { measuring, tasks };
}

/** Pauses, resumes, cancels, tries again or forgets a long task. Throws UserError when it is not in a state for that. */
export async function directTask(taskId: number, input: unknown): Promise<void> {
  const { do: move } = taskMove.parse(input);
  const moved = move === 'forget' ? await forgetTask(taskId) : await moveTask(taskId, move);
  if (!moved) throw new UserError('This task has ended or changed meanwhile.', 409);
}

/** Lets measuring rest or go on. */
export async function pauseMeasuring(input: unknown): Promise<void> {
  const { paused } = z.object({ paused: z.boolean() }).parse(input);
  await store.pauseKind('measure', paused);
}

/** Takes all samples out of the queue; returns how many there were. */
export async function cancelMeasuring(): Promise<number> {
  const sampleIds = await store.cancelMeasuring(database(), null);
  await announceSamples(database(), sampleIds, 'changed');
  return sampleIds.length;
}

/** What is in sight on somebody's screen is measured first. */
export async function preferInSight(input: unknown): Promise<void> {
  const { sampleIds } = z.object({ sampleIds: z.array(z.uuid()).max(200) }).parse(input);
  await store.preferSamples(sampleIds, IN_SIGHT);
}

/** Puts a sample into the queue again, ahead of new arrivals: somebody waits for it. */
export async function measureAgain(sampleId: string, input: unknown): Promise<void> {
  const request = measureRequest.parse(input);
  await transaction(async (client) => {
    if (!(await readSampleFile(client, sampleId))) throw notFound();
    await store.enqueueMeasuring(client, [sampleId], request, ASKED_FOR);
    await announceSamples(client, [sampleId], 'changed');
  });
}

/** Takes a sample out of the queue; what was measured before stays. */
export async function stopMeasuring(sampleId: string): Promise<void> {
  const stopped = await store.cancelMeasuring(database(), [sampleId]);
  await announceSamples(database(), stopped, 'changed');
}

/** Tells screens and store how far measuring a sample is; false when the task is no longer theirs who hold its lease. */
export async function reportMeasuring(
  task: store.TakenTask<'measure'>,
  stage: string,
  progress: number,
): Promise<boolean> {
  const held = await store.reportTask(task, stage, progress);
  if (held) await announceProgress(database(), { sampleId: task.sampleId!, stage, progress });
  return held;
}

/** Gives a task back whose thread died; after its tries it fails, and its sample says so. */
export async function giveBack(task: store.Held, why: string): Promise<void> {
  await returned((client) => store.giveBackTask(client, task, why));
}

/**
 * Gives back what processes did that are gone. `held`: the leases that the process of `runner` works on; what else runs under its
 * number is nobody's. Null: it was just started, and works on nothing.
 */
export async function reclaim(runner: number, held: readonly number[] | null): Promise<void> {
  await returned((client) => store.reclaimTasks(client, runner, held));
}

async function returned(giveBack: (client: Parameters<typeof store.reclaimTasks>[0]) => Promise<string[]>) {
  await transaction(async (client) => {
    const failed = await giveBack(client);
    if (failed.length) await changeInside(client, { do: 'renew' }, failed, null);
  });
}
