import type { ReactNode } from 'react';

/** A key as it is printed on the sheet and beside commands. */
export function KeyHint({ children }: { children: ReactNode }) {
  return (
    <kbd className="figures whitespace-nowrap border border-rule-strong bg-paper px-1 text-tiny text-ink-soft">
      {children}
    </kbd>
  );
}
