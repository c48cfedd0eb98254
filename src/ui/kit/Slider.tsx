'use client';
import clsx from 'clsx';
import { useState } from 'react';

interface Props {
  label: string;
  min: number;
  max: number;
  step?: number;
  value: number;
  /** How the value is written beside the slider; without it there is none. */
  text?: (value: number) => string;
  /** `above`: label and value above the slider; `beside`: the value beside it, the label only read out. */
  place?: 'above' | 'beside';
  title?: string;
  className?: string;
  /** While it is dragged. */
  onTry?: (value: number) => void;
  /** When it is let go; without `onTry`, while it is dragged. */
  onValue: (value: number) => void;
}

/** A value on a line. */
export function Slider({ label, value, text, place = 'above', title, className, ...rest }: Props) {
  const { min, max, step = 0.05, onTry, onValue } = rest;
  const [dragged, setDragged] = useState<number | null>(null);
  const done = () => {
    if (dragged === null) return;
    setDragged(null);
    onValue(dragged);
  };
  const shown = dragged ?? value;
  const slider = (
    <input
      type="range"
      aria-label={label}
      aria-valuetext={text?.(shown)}
      className={clsx('h-5 accent-ink', className ?? 'w-full')}
      {...{ min, max, step }}
      value={shown}
      onChange={({ target }) => {
        const next = Number(target.value);
        if (!onTry) return onValue(next);
        setDragged(next);
        onTry(next);
      }}
      onPointerUp={done}
      onKeyUp={done}
      onBlur={done}
    />
  );
  if (place === 'beside')
    return (
      <label className="flex items-center gap-1" title={title ?? label}>
        {slider}
        {text && <span className="figures w-16 whitespace-nowrap text-ink-soft">{text(shown)}</span>}
      </label>
    );
  return (
    <label className="flex flex-col" title={title}>
      <span className="flex justify-between text-tiny">
        <span className="text-ink-soft">{label}</span>
        {text && <b className="figures">{text(shown)}</b>}
      </span>
      {slider}
    </label>
  );
}
