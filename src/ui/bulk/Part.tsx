import type { ReactNode } from 'react';

/** What an action wants to know, under the buttons. */
export function Part({ onSubmit, children }: { onSubmit: () => void; children: ReactNode }) {
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-3 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        onSubmit();
      }}
    >
      {children}
    </form>
  );
}
