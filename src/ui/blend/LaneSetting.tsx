import type { ReactNode } from 'react';

/** A line of a lane's settings: its label and its controls. */
export function LaneSetting({ label, children }: { label: string; children: ReactNode }) {
  return (
    <>
      <span className="text-ink-soft">{label}</span>
      <div className="flex min-w-0 flex-wrap items-center gap-1">{children}</div>
    </>
  );
}
