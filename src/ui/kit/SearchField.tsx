import clsx from 'clsx';
import { Search } from 'lucide-react';
import { TextField } from './Field';

interface Props {
  label: string;
  placeholder: string;
  value: string;
  className?: string;
  onValue: (text: string) => void;
}

/** Text that a list is searched by. */
export function SearchField({ label, placeholder, value, className, onValue }: Props) {
  return (
    <label className="relative block">
      <span className="sr-only">{label}</span>
      <Search className="pointer-events-none absolute top-1.5 left-2 size-4 text-ink-soft" aria-hidden />
      <TextField
        type="search"
        className={clsx('pl-7', className)}
        placeholder={placeholder}
        value={value}
        onChange={({ target }) => onValue(target.value)}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </label>
  );
}
