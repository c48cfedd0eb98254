import clsx from 'clsx';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { keepKeysFree } from './pressedByMouse';

interface Props {
  pressed?: boolean;
  /** It is proposed: a dotted frame until it is taken. */
  isProposed?: boolean;
  title?: string;
  label?: string;
  onPress: () => void;
  children: ReactNode;
}

/** A tag or a value that is on or off. */
export function Chip({ pressed = false, isProposed = false, title, label, onPress, children }: Props) {
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      aria-pressed={pressed}
      aria-label={label}
      title={title}
      className={clsx(
        'border px-1.5 py-px',
        pressed
          ? 'border-ink bg-ink text-paper'
          : isProposed
            ? 'border-dashed border-ink'
            : 'border-rule-strong hover:border-ink',
      )}
      onClick={onPress}
    >
      {children}
    </button>
  );
}

/** A tag that can be removed. */
export function RemovableChip({
  label,
  onRemove,
  children,
}: Omit<Props, 'onPress'> & { onRemove: () => void }) {
  return (
    <span className="inline-flex items-center border border-ink pl-1.5">
      {children}
      <button
        type="button"
        onMouseDown={keepKeysFree}
        aria-label={label}
        className="px-1 py-0.5 hover:text-one"
        onClick={onRemove}
      >
        <X className="size-3" aria-hidden />
      </button>
    </span>
  );
}
