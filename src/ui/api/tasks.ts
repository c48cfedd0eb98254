'use client';
import { useQuery } from '@tanstack/react-query';
import { z } from 'zod';
import { longTask, measuringState, type TaskMove } from '@/contract/tasks';
import { call, json, nothing } from './request';

const tasksNow = z.object({ measuring: measuringState, tasks: z.array(longTask) });

export const directTask = (taskId: number, move: TaskMove) =>
  call(nothing, `/api/tasks/${taskId}`, json('POST', { do: move }));

export const pauseMeasuring = (paused: boolean) =>
  call(nothing, '/api/tasks/measuring', json('PUT', { paused }));

export const cancelMeasuring = () => call(nothing, '/api/tasks/measuring', { method: 'DELETE' });

/** What is in sight is measured first. */
export const preferInSight = (sampleIds: readonly string[]) =>
  call(nothing, '/api/tasks/measuring', json('POST', { sampleIds }));

/** What goes on in the server's queue; asked for often only while something moves. */
export function useTasks() {
  return useQuery({
    queryKey: ['tasks'],
    queryFn: ({ signal }) => call(tasksNow, '/api/tasks', { signal }),
    refetchInterval: ({ state: { data } }) =>
      data?.tasks.some(({ state }) => state === 'running' || state === 'waiting')
        ? 700
        : (data?.measuring.running ?? 0) > 0
          ? 1500
          : 10_000,
  });
}
