'use client';
import clsx from 'clsx';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { toast } from 'sonner';
import { Labelled, TextField, type LabelPlace } from './Field';
import { amountIn, rounded, whyNotNumber, type Measure } from './numbers';

interface Props extends Measure {
  label: string;
  place?: LabelPlace;
  /** null: the field is empty. */
  value: number | null;
  least: number;
  most: number;
  whole?: boolean;
  /** By how much the arrow keys and dragging change it; a tenth with Shift. */
  step?: number;
  decimals?: number;
  /** How the value is written while nobody types; by its decimals without it. */
  text?: (value: number) => string;
  placeholder?: string;
  title?: string;
  disabled?: boolean;
  small?: boolean;
  className?: string;
  /** It is taken while it is typed and refusals are told below it; without, when the field is left, and they are told once. */
  isLive?: boolean;
  onValue: (value: number) => void;
  /** What an empty field means; without it the field goes back to its value. */
  onEmpty?: () => void;
  /** What is being typed, accepted or not; null when nobody types any more. */
  onTyping?: (typed: string | null) => void;
}

/** Pixels of dragging for one step. */
const STEP_PX = 6;

/**
 * A number with its unit: typed (also “-8%”, “x0.5”, “30:00”, “2 min”), stepped with the arrow keys, or dragged by its
 * unit. Enter and leaving the field take it, Escape gives it up.
 */
export function NumberField(props: Props) {
  const { label, place = 'hidden', unit, value, least, most, whole, step = 1, decimals = 3 } = props;
  const { text, placeholder, title, disabled, small, className, isLive = false } = props;
  const { onValue, onEmpty, onTyping, also } = props;
  const [typed, setTyped] = useState<string | null>(null);
  // Per cent are of what stood here before anything was typed, also while each letter is taken.
  const [before, setBefore] = useState(value);
  const measure: Measure = { unit, also, of: props.of ?? (typed === null ? value : before) };
  const dragged = useRef<{ x: number; from: number; last: number } | null>(null);
  // Leaving the field is told before it is drawn again.
  const isGivenUp = useRef(false);
  const shown = value === null ? '' : (text?.(value) ?? String(rounded(value, decimals)));
  const whyNot = (entry: string): string | null =>
    entry.trim() === ''
      ? onEmpty || !isLive
        ? null
        : `${least} to ${most}${unit ? ` ${unit}` : ''}.`
      : whyNotNumber(entry, { ...measure, least, most, whole });
  const fault = typed === null ? null : whyNot(typed);
  const type = (entry: string | null) => {
    if (typed === null) setBefore(value);
    setTyped(entry);
    onTyping?.(entry);
  };
  const take = (entry: string) => {
    if (whyNot(entry) !== null) return;
    const number = entry.trim() === '' ? null : amountIn(entry, measure);
    if (number === null) onEmpty?.();
    else if (number !== value) onValue(number);
  };
  const leave = () => {
    if (typed !== null && !isLive && !isGivenUp.current) {
      if (fault) toast.error(`${label}: ${fault}`);
      else take(typed);
    }
    isGivenUp.current = false;
    type(null);
  };
  const stepBy = (by: number, from = value) => {
    if (from === null) return;
    const next = rounded(Math.max(least, Math.min(most, from + by * step)), 6);
    type(null);
    if (next !== value) onValue(next);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Escape') isGivenUp.current = true;
    if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur();
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    stepBy((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 0.1 : 1));
  };
  const drag = {
    onPointerDown: (event: PointerEvent) => {
      if (disabled || value === null) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      dragged.current = { x: event.clientX, from: value, last: 0 };
    },
    onPointerMove: (event: PointerEvent) => {
      const at = dragged.current;
      if (!at) return;
      const steps = Math.trunc((event.clientX - at.x) / STEP_PX);
      if (steps === at.last) return;
      at.last = steps;
      stepBy(steps, at.from);
    },
    onPointerUp: () => (dragged.current = null),
  };
  const grip = disabled || value === null ? '' : 'cursor-ew-resize touch-none select-none';
  return (
    <Labelled label={label} place={place} title={title}>
      <span className={clsx('flex items-center gap-1', place === 'column' && 'min-w-0 flex-1')}>
        <TextField
          aria-label={label}
          aria-invalid={fault !== null}
          inputMode="decimal"
          title={title}
          placeholder={placeholder}
          disabled={disabled}
          small={small}
          className={clsx('figures min-w-0', place === 'column' ? 'w-full flex-1' : (className ?? 'w-16'))}
          value={typed ?? shown}
          onChange={({ target }) => {
            type(target.value);
            if (isLive) take(target.value);
          }}
          onBlur={leave}
          onKeyDown={onKeyDown}
        />
        {unit && (
          <span
            {...drag}
            className={clsx('shrink-0 text-tiny text-ink-soft', place === 'column' && 'w-9', grip)}
          >
            {unit}
          </span>
        )}
      </span>
      {isLive && fault && (
        <span role="alert" className="w-full text-tiny text-one">
          {fault}
        </span>
      )}
    </Labelled>
  );
}
