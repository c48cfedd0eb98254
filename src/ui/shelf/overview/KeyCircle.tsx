'use client';
import clsx from 'clsx';
import { max } from 'd3-array';
import { useState, type KeyboardEvent } from 'react';
import { ALL_KEYS, keyLabel, keyNumber, tonicName, type Key } from '@/core/harmony/keyNames';
import { nearKeys, type KeyNear } from '@/core/harmony/nearKeys';
import type { ShelfOverview } from '@/contract/overview';
import { countText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Figure } from './Figure';

const SIZE = 200;
const MIDDLE = SIZE / 2;
/** Inner and outer radius of the ring of each mode. */
const RINGS = { minor: [38, 66], major: [68, 98] } as const;
/** Keys that share their notes stand behind each other: C major and A minor on top, then a fifth higher at each step. */
const AROUND = Array.from({ length: 12 }, (_, i) => (7 * i) % 12);
const RELATIVE = 9;

const keyAt = (place: number, mode: Key['mode']): Key => ({
  mode,
  tonic: (AROUND[(place + 12) % 12] + (mode === 'minor' ? RELATIVE : 0)) % 12,
});
const placeOf = ({ tonic, mode }: Key) =>
  AROUND.indexOf((tonic + (mode === 'minor' ? 12 - RELATIVE : 0)) % 12);

const pointAt = (turns: number, radius: number) =>
  [MIDDLE + radius * Math.sin(turns * 2 * Math.PI), MIDDLE - radius * Math.cos(turns * 2 * Math.PI)].map(
    (v) => v.toFixed(2),
  );

function sector(place: number, [inner, outer]: readonly [number, number]): string {
  const [from, to] = [(place - 0.48) / 12, (place + 0.48) / 12];
  return `M${pointAt(from, outer)} A${outer} ${outer} 0 0 1 ${pointAt(to, outer)} L${pointAt(to, inner)} A${inner} ${inner} 0 0 0 ${pointAt(from, inner)} Z`;
}

interface Props {
  keys: ShelfOverview['keys'];
  chosen: Key | null;
  near: KeyNear;
  onKey: (key: Key | null) => void;
}

/** How many samples are in which key, along the circle of fifths; the darker, the more. A press lists a key alone. */
export function KeyCircle({ keys, chosen, near, onKey }: Props) {
  const [atHand, setAtHand] = useState<Key>({ tonic: 0, mode: 'major' });
  const { counts, without, exact } = keys;
  const most = max(counts) || 1;
  const found = new Set(chosen ? nearKeys(chosen, near) : []);
  const press = (key: Key) => onKey(chosen && keyNumber(chosen) === keyNumber(key) ? null : key);
  const step = (event: KeyboardEvent<SVGElement>, key: Key) => {
    if (event.key === 'Enter' || event.key === ' ') press(key);
    else {
      const by = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
      const mode = { ArrowUp: 'major' as const, ArrowDown: 'minor' as const }[event.key];
      if (!by && !mode) return;
      const next = keyAt(placeOf(key) + (by ?? 0), mode ?? key.mode);
      setAtHand(next);
      event.currentTarget.ownerSVGElement
        ?.querySelector<SVGElement>(`[data-key="${keyNumber(next)}"]`)
        ?.focus();
    }
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Figure
      title="Key"
      exact={exact}
      note={without > 0 ? `${countText(without, exact)} without` : ''}
      onClear={chosen ? () => onKey(null) : null}
      figures={[]}
    >
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        className="h-full w-full"
        role="group"
        aria-label="Circle of fifths"
      >
        {ALL_KEYS.map((key) => {
          const number = keyNumber(key);
          const share = counts[number] / most;
          const isChosen = chosen !== null && keyNumber(chosen) === number;
          const place = placeOf(key);
          const [x, y] = pointAt(place / 12, (RINGS[key.mode][0] + RINGS[key.mode][1]) / 2);
          const text = `${keyLabel(key)}: ${counted(counts[number], 'sample')}`;
          return (
            <g
              key={number}
              role="button"
              aria-pressed={isChosen}
              aria-label={text}
              data-key={number}
              tabIndex={keyNumber(atHand) === number ? 0 : -1}
              className="group cursor-pointer outline-none"
              onClick={() => press(key)}
              onKeyDown={(event) => step(event, key)}
            >
              <title>{text}</title>
              <path
                d={sector(place, RINGS[key.mode])}
                className={clsx(
                  'group-hover:stroke-ink group-focus-visible:stroke-ink group-focus-visible:stroke-3',
                  isChosen ? 'stroke-ink stroke-3' : found.has(number) ? 'stroke-ink' : 'stroke-rule-strong',
                )}
                style={{
                  fill: `color-mix(in oklab, var(--trace) ${Math.round(share * 100)}%, var(--sheet))`,
                }}
              />
              <text
                x={x}
                y={y}
                textAnchor="middle"
                dominantBaseline="central"
                className={clsx(
                  'pointer-events-none text-[12px]',
                  share > 0.45 ? 'fill-paper' : counts[number] > 0 ? 'fill-ink' : 'fill-ink-soft',
                )}
              >
                {tonicName(key).replace('b', '♭').replace('#', '♯')}
                {key.mode === 'minor' && 'm'}
              </text>
            </g>
          );
        })}
      </svg>
    </Figure>
  );
}
