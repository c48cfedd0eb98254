'use client';
import { useSyncExternalStore } from 'react';

const NAMES = [
  'paper',
  'sheet',
  'sunk',
  'rule',
  'rule-strong',
  'ink',
  'ink-soft',
  'trace',
  'trace-soft',
  'one',
  'look',
  'good',
  'wash-one',
  'wash-look',
  'wash-ink',
  'band-low',
  'band-middle',
  'band-high',
] as const;
export type Inks = Record<(typeof NAMES)[number], string>;

let inks: Inks | null = null;

function read(): Inks {
  const style = getComputedStyle(document.documentElement);
  return Object.fromEntries(NAMES.map((name) => [name, style.getPropertyValue(`--${name}`).trim()])) as Inks;
}

const BLANK = Object.fromEntries(NAMES.map((name) => [name, 'transparent'])) as Inks;

/** The colours of the present paper, for drawing on a canvas. */
export function useInks(): Inks {
  return useSyncExternalStore(
    (listener) => {
      const renew = () => {
        inks = read();
        listener();
      };
      window.addEventListener('grento-theme', renew);
      return () => window.removeEventListener('grento-theme', renew);
    },
    () => (inks ??= read()),
    () => BLANK,
  );
}
