import { AUDIO_FORMATS, RATES, type AudioWriteFormat } from '@/core/recipes/recipe';
import { fieldClass } from './Field';
import { formatText } from './figures';

interface Props<V> {
  value: V;
  onChange: (value: V) => void;
  className?: string;
  autoFocus?: boolean;
}

/** How sound is written. */
export function FormatSelect({ value, onChange, className = '', autoFocus }: Props<AudioWriteFormat>) {
  return (
    <select
      aria-label="Format"
      autoFocus={autoFocus}
      className={`${fieldClass} ${className}`}
      value={value}
      onChange={({ target }) => onChange(target.value as AudioWriteFormat)}
    >
      {AUDIO_FORMATS.map((one) => (
        <option key={one} value={one}>
          {formatText(one)}
        </option>
      ))}
    </select>
  );
}

/** At which rate; `own`: what stands for that of each sample itself, null where there is no such choice. */
export function RateSelect({
  value,
  onChange,
  className = '',
  own,
}: Props<number | null> & { own: string | null }) {
  return (
    <select
      aria-label="Sample rate"
      className={`${fieldClass} ${className}`}
      value={value ?? ''}
      onChange={({ target }) => onChange(target.value === '' ? null : Number(target.value))}
    >
      {own !== null && <option value="">{own}</option>}
      {RATES.map((rate) => (
        <option key={rate} value={rate}>
          {rate / 1000} kHz
        </option>
      ))}
    </select>
  );
}
