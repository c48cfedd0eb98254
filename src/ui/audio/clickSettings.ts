import type { ClickMix } from '@/core/playing/click';
import type { ClickSound } from '@/core/playing/clickSound';

/** How the click is set. */
export interface ClickSettings extends ClickMix {
  sound: ClickSound;
  countInBars: 0 | 1 | 2;
}

export const DEFAULT_CLICK: ClickSettings = {
  on: true,
  level: 0.8,
  accent: true,
  balance: 0,
  split: false,
  sound: 'wood',
  pace: 1,
  subdivision: 1,
  drums: false,
  swing: 0.5,
  countInBars: 0,
};

/** While a key is held only this is heard. */
export type Solo = 'click' | 'audio' | null;

/** What is mixed: the settings, or what a held key wants of them. */
export function mixOf({ sound: _sound, countInBars: _bars, ...mix }: ClickSettings, solo: Solo): ClickMix {
  if (!solo) return mix;
  return { ...mix, on: solo === 'click', balance: solo === 'click' ? 1 : -1 };
}
