'use client';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { LongTask } from '@/contract/tasks';
import { takeAway } from '../api/archives';
import { useTasks } from '../api/tasks';
import { useOpenOnBench } from '../api/useEntry';
import { openAsCut } from '../family/cutDrafts';
import { tell } from '../kit/useAction';

interface Asked {
  taskId: number;
  /** Where on the page it was asked for: what comes of it is shown there. */
  place: string;
  /** What is done as soon as it is made. */
  then: 'download' | 'cut' | null;
}

/** Renders that were asked for on this page and whose result nobody has dismissed, the newest first. */
const asked = createStore<{ all: readonly Asked[] }>(() => ({ all: [] }));

/** Shows at this place what comes of a task, and downloads it where that is wanted. */
export const awaitMade = (one: Asked): void => asked.setState(({ all }) => ({ all: [one, ...all] }));

/** Shows nothing more of a task. */
export const dismissMade = (taskId: number): void =>
  asked.setState(({ all }) => ({ all: all.filter((one) => one.taskId !== taskId) }));

export const isOver = ({ state }: LongTask): boolean => ['done', 'failed', 'cancelled'].includes(state);

/** The newest task that was asked for at a place and not dismissed; null where there is none. */
export function useMadeAt(place: string): LongTask | null {
  const { data } = useTasks();
  const all = useStore(asked, (now) => now.all);
  const newest = all.find((one) => one.place === place);
  return data?.tasks.find(({ taskId }) => taskId === newest?.taskId) ?? null;
}

/** Downloads what was to be downloaded, and opens what was to be cut, as soon as it is there, whatever screen is shown. */
export function useFollowsMade(): void {
  const { data } = useTasks();
  const openOnBench = useOpenOnBench();
  const all = useStore(asked, (now) => now.all);
  useEffect(() => {
    for (const { taskId, then } of all) {
      const task = then && data?.tasks.find((one) => one.taskId === taskId);
      if (!task || !isOver(task)) continue;
      asked.setState((now) => ({
        all: now.all.map((one) => (one.taskId === taskId ? { ...one, then: null } : one)),
      }));
      const ids = task.made.map(({ sampleId }) => sampleId);
      if (ids.length === 0) toast.error(`Nothing to ${then}: ${task.fault ?? task.faults[0]?.fault}`);
      else if (then === 'download') takeAway(ids, 'original').catch(tell);
      else {
        dismissMade(taskId);
        openAsCut(ids[0]);
        openOnBench(ids[0]);
      }
    }
  }, [all, data, openOnBench]);
}
