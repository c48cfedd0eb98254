import clsx from 'clsx';
import { keepKeysFree } from './pressedByMouse';

interface Props {
  label: string;
  title?: string;
  pressed: boolean;
  className?: string;
  onClick: () => void;
  children: string;
}

/** A word that is on or off, in a row that is pressed for something else. */
export function Toggle({ label, title, pressed, className, onClick, children }: Props) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      title={title}
      onMouseDown={keepKeysFree}
      onClick={(event) => {
        event.stopPropagation();
        onClick();
      }}
      className={clsx(
        'border-rule-strong px-1 text-tiny',
        pressed ? 'bg-ink text-paper' : 'text-ink-soft hover:bg-wash-ink hover:text-ink',
        className,
      )}
    >
      {children}
    </button>
  );
}
