'use client';
import { useState } from 'react';
import { fieldClass, TextField } from '../../pieces/Field';

/** One of several, beside its name. */
export function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: readonly (readonly [value: string, words: string])[];
  onChange: (value: string) => void;
}) {
  return (
    <label className="flex items-center gap-1.5">
      <span className="w-20 shrink-0 text-ink-soft">{label}</span>
      <select
        aria-label={label}
        className={`${fieldClass} h-6 min-w-0 flex-1 px-1`}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

/** On or off. */
export function Check({
  label,
  value,
  onValue,
}: {
  label: string;
  value: boolean;
  onValue: (value: boolean) => void;
}) {
  return (
    <label className="flex items-start gap-1.5">
      <input
        type="checkbox"
        className="mt-0.5 accent-ink"
        checked={value}
        onChange={(event) => onValue(event.target.checked)}
      />
      {label}
    </label>
  );
}

/** A share, 0 … 100 %. */
export function Share({
  label,
  value,
  onValue,
}: {
  label: string;
  value: number;
  onValue: (value: number) => void;
}) {
  return (
    <label className="flex flex-col">
      <span className="flex justify-between">
        <span className="text-ink-soft">{label}</span>
        <b className="figures">{Math.round(100 * value)} %</b>
      </span>
      <input
        type="range"
        className="accent-ink"
        min={0}
        max={1}
        step={0.05}
        value={value}
        onChange={(event) => onValue(Number(event.target.value))}
      />
    </label>
  );
}

/** A number that is taken as soon as it is one; what is out of bounds is shown and not taken. */
export function NumberIn({
  label,
  unit,
  value,
  least,
  most,
  whole = false,
  placeholder,
  onValue,
  onNone,
}: {
  label: string;
  unit?: string;
  value: number | null;
  least: number;
  most: number;
  whole?: boolean;
  placeholder?: string;
  onValue: (value: number) => void;
  /** What an empty field means. */
  onNone?: () => void;
}) {
  const [text, setText] = useState(value === null ? '' : String(value));
  const [shown, setShown] = useState(value);
  const numberOf = (typed: string) => Number(typed.replace(',', '.').replace('−', '-'));
  if (shown !== value) {
    setShown(value);
    if (numberOf(text) !== value) setText(value === null ? '' : String(Math.round(value * 1000) / 1000));
  }
  const fits = (number: number) => number >= least && number <= most && (!whole || Number.isInteger(number));
  const isBad = text === '' ? !onNone : !fits(numberOf(text));
  return (
    <label className="flex items-center gap-1.5">
      <span className="w-20 shrink-0 text-ink-soft">{label}</span>
      <TextField
        aria-label={label}
        className="figures h-6 w-full min-w-0 px-1"
        inputMode="decimal"
        aria-invalid={isBad}
        placeholder={placeholder}
        value={text}
        onChange={(event) => {
          const typed = event.target.value;
          setText(typed);
          if (typed === '') onNone?.();
          else if (fits(numberOf(typed))) onValue(numberOf(typed));
        }}
      />
      {unit && <span className="w-9 shrink-0 text-tiny text-ink-soft">{unit}</span>}
    </label>
  );
}
