'use client';
import { useSyncExternalStore } from 'react';
import { createStore } from 'zustand/vanilla';
import { z } from 'zod';
import { keyValue } from '@/core/harmony/keyValue';
import type { Target } from '@/core/timeStretch/proposal';
import { ALL_KEYS, keyLabel } from '@/core/harmony/keyNames';
import { HAND_OVERS } from '../audio/atTarget';

/** Tempi that can be aimed at, BPM. */
export const TARGET_TEMPI = { least: 20, most: 400 };

/** What may run along with what is played at the target. */
export const ALONG = ['nothing', 'click', 'drums'] as const;

const stored = z.object({
  isOn: z.boolean(),
  tempoBpm: z.number().min(TARGET_TEMPI.least).max(TARGET_TEMPI.most).nullable(),
  key: keyValue.nullable(),
  isTape: z.boolean(),
  /** When a sample begins beside those that sound. */
  handOver: z.enum(HAND_OVERS),
  /** What runs along with it. */
  along: z.enum(ALONG).default('nothing'),
});
export type TargetState = z.infer<typeof stored>;

const OFF: TargetState = {
  isOn: false,
  tempoBpm: null,
  key: null,
  isTape: false,
  handOver: 'beat',
  along: 'nothing',
};
const KEPT = 'grento-target';

/** Null before anybody asked. */
const target = createStore<{ now: TargetState | null }>(() => ({ now: null }));

/** What an address says of the target; null where it says nothing. */
function targetIn(params: URLSearchParams): TargetState | null {
  if (!['tempo', 'key'].some((name) => params.has(name))) return null;
  const tempo = params.get('tempo');
  const found = stored.safeParse({
    isOn: true,
    tempoBpm: tempo === null ? null : Number(tempo),
    key: ALL_KEYS.find((one) => keyLabel(one) === params.get('key')) ?? null,
    isTape: params.has('tape'),
    handOver: params.get('from') ?? 'beat',
  });
  return found.success ? { ...found.data, along: kept().along } : null;
}

/** The same as an address says it; nothing while it is off. */
export function paramsOf({ isOn, tempoBpm, key, isTape, handOver }: TargetState): URLSearchParams {
  const params = new URLSearchParams();
  if (!isOn) return params;
  if (tempoBpm !== null) params.set('tempo', String(tempoBpm));
  if (key) params.set('key', keyLabel(key));
  if (isTape) params.set('tape', '');
  if (handOver !== 'beat') params.set('from', handOver);
  return params;
}

function kept(): TargetState {
  try {
    const found = stored.safeParse(JSON.parse(localStorage.getItem(KEPT) ?? 'null'));
    return found.success ? found.data : OFF;
  } catch {
    return OFF;
  }
}

function read(): TargetState {
  const { now } = target.getState();
  if (now) return now;
  const said = targetIn(new URLSearchParams(location.search));
  if (said) keep(said);
  const found = said ?? kept();
  target.setState({ now: found });
  return found;
}

const keep = (state: TargetState) => localStorage.setItem(KEPT, JSON.stringify(state));

/** The target as it is now. */
export const targetNow = (): TargetState => (typeof window === 'undefined' ? OFF : read());

export function setTarget(patch: Partial<TargetState>) {
  const next = { ...targetNow(), ...patch };
  // A target of nothing is none.
  const now = { ...next, isOn: next.isOn && (next.tempoBpm !== null || next.key !== null) };
  keep(now);
  target.setState({ now });
}

/** A semitone up or down, in the same mode. */
export function stepTargetKey(by: number) {
  const { key } = targetNow();
  if (key) setTarget({ isOn: true, key: { ...key, tonic: (key.tonic + by + 12) % 12 } });
}

export function stepTargetTempo(by: number) {
  const { tempoBpm } = targetNow();
  if (tempoBpm === null) return;
  const next = Math.round((tempoBpm + by) * 1000) / 1000;
  setTarget({ isOn: true, tempoBpm: Math.max(TARGET_TEMPI.least, Math.min(TARGET_TEMPI.most, next)) });
}

/** Where the target's tempo is typed. */
export const TARGET_FIELD = 'target-tempo';

/** Puts the keyboard into the field of the target's tempo. */
export function typeTarget() {
  const field = document.querySelector<HTMLInputElement>(`#${TARGET_FIELD} input`);
  field?.focus();
  field?.select();
}

/** What everything is played at; both null while the target is off. */
export const aimOf = ({ isOn, tempoBpm, key, isTape }: TargetState): Target =>
  isOn ? { tempoBpm, key, isTape } : { tempoBpm: null, key: null, isTape: false };

/** The target, kept in this browser and said by the address. */
export const useTarget = (): TargetState => useSyncExternalStore(target.subscribe, targetNow, () => OFF);
