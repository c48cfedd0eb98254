import type { EngineState } from '@/contract/measuring';
import { database } from '@/store/database';
import { cancelComparisons, engineNow, enqueueComparisons } from '@/store/engine';

export const engineState = (): Promise<EngineState> => engineNow();

/** Has today's engine listen to all that an older one measured; returns how many were put into the queue. */
export const compareAll = (): Promise<number> => enqueueComparisons(database());

/** Takes back what has not begun; returns how many that were. */
export const stopComparing = (): Promise<number> => cancelComparisons(database());
