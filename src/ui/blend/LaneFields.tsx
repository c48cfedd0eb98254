'use client';
import { useState, type ReactNode } from 'react';
import { TextField } from '../pieces/Field';
import { numberIn, useTyped } from '../pieces/useTyped';
import { semitonesText } from '../target/proposalWords';

/** A line of the card: what it says, and its controls. */
export function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <>
      <span className="text-ink-soft">{label}</span>
      <div className="flex min-w-0 flex-wrap items-center gap-1">{children}</div>
    </>
  );
}

/** A value that is heard while it is pulled, and stored when it is let go. */
export function Slide({
  label,
  value,
  format,
  onTry,
  onSet,
  ...range
}: {
  label: string;
  min: number;
  max: number;
  step: number;
  value: number;
  format: (value: number) => string;
  onTry: (value: number) => void;
  onSet: (value: number) => void;
}) {
  const [pulled, setPulled] = useState<number | null>(null);
  const done = () => {
    if (pulled === null) return;
    setPulled(null);
    onSet(pulled);
  };
  const shown = pulled ?? value;
  return (
    <label className="flex items-center gap-1" title={label}>
      <input
        type="range"
        aria-label={label}
        aria-valuetext={format(shown)}
        className="h-5 w-16"
        {...range}
        value={shown}
        onChange={(event) => {
          setPulled(Number(event.target.value));
          onTry(Number(event.target.value));
        }}
        onPointerUp={done}
        onKeyUp={done}
        onBlur={done}
      />
      <span className="figures w-16 whitespace-nowrap text-ink-soft">{format(shown)}</span>
    </label>
  );
}

/** A figure that is typed, or stepped with the arrow keys. */
export function Figure({
  label,
  value,
  step,
  decimals,
  unit,
  isSigned = false,
  disabled,
  onSet,
}: {
  label: string;
  value: number;
  step: number;
  decimals: number;
  unit: string;
  isSigned?: boolean;
  disabled?: boolean;
  onSet: (value: number) => void;
}) {
  const shown = isSigned ? semitonesText(value) : String(Math.round(value * 10 ** decimals) / 10 ** decimals);
  const { field } = useTyped(shown, (typed) => {
    const number = numberIn(typed);
    if (number !== null && number !== value) onSet(number);
  });
  return (
    <span className="flex items-center gap-0.5">
      <TextField
        aria-label={label}
        className="figures h-6! w-13 px-1! text-right"
        inputMode="decimal"
        disabled={disabled}
        {...field}
        onKeyDown={(event) => {
          field.onKeyDown(event);
          if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
          event.preventDefault();
          onSet(Math.round((value + (event.key === 'ArrowUp' ? step : -step)) * 1e6) / 1e6);
        }}
      />
      {unit && <span className="text-ink-soft">{unit}</span>}
    </span>
  );
}
