import type { Segment } from '@/core/playing/segments';
import { DEFAULT_CLICK, type ClickSettings, type Solo } from './clickSettings';

export interface EngineState {
  /** The sample whose time is the clock's; others may sound beside it. */
  sampleId: string | null;
  status: 'empty' | 'loading' | 'ready' | 'playing';
  /** Other samples that sound at the target beside it. */
  beside: readonly string[];
  /** Share of the file that is fetched and decoded. */
  loaded: number;
  /** The same of those beside it, together; 1 when there are none. */
  loadedBeside: number;
  fault: string | null;
  click: ClickSettings;
  /** What loops, seconds; empty when nothing does. */
  segments: readonly Segment[];
  /** Share of the full speed at which it is heard, the pitch held. */
  speed: Speed;
  solo: Solo;
  /** What is added to the delay that the browser tells of, seconds; kept in the browser. */
  extraLatency: number;
}

export const SPEEDS = [1, 0.75, 0.5] as const;
export type Speed = (typeof SPEEDS)[number];

/** The next slower one, and after the slowest full speed. */
export const speedAfter = (speed: Speed): Speed => SPEEDS[(SPEEDS.indexOf(speed) + 1) % SPEEDS.length];

const LATENCY_KEY = 'grento-latency';

/** What is added to the browser's delay is kept in the browser. */
export const keepLatency = (seconds: number) => localStorage.setItem(LATENCY_KEY, String(seconds));

function storedLatency(): number {
  const stored = typeof localStorage === 'undefined' ? NaN : Number(localStorage.getItem(LATENCY_KEY));
  return Number.isFinite(stored) && Math.abs(stored) < 1 ? stored : 0;
}

/** Before anything is opened. */
export const beginningState = (): EngineState => ({
  sampleId: null,
  status: 'empty',
  beside: [],
  loaded: 0,
  loadedBeside: 1,
  fault: null,
  click: DEFAULT_CLICK,
  segments: [],
  speed: 1,
  solo: null,
  extraLatency: storedLatency(),
});
