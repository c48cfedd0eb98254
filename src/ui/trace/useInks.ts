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
const PENS = Array.from({ length: 12 }, (_, i) => `--pen-${i + 1}`);
type Named = Record<(typeof NAMES)[number], string>;
export type Inks = Named & {
  /** One for each lane of a blend. */
  pens: readonly string[];
};

let inks: Inks | null = null;

function read(): Inks {
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  return {
    ...(Object.fromEntries(NAMES.map((name) => [name, colour(`--${name}`)])) as Named),
    pens: PENS.map(colour),
  };
}

const BLANK: Inks = {
  ...(Object.fromEntries(NAMES.map((name) => [name, 'transparent'])) as Named),
  pens: PENS.map(() => 'transparent'),
};

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
