import type { ReactNode } from 'react';

/** Settings under a heading. */
export function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2 className="mb-1 border-b border-rule text-small font-semibold">{title}</h2>
      {children}
    </section>
  );
}

/** Settings under a heading that opens and closes them. */
export function Fold({
  title,
  open = false,
  children,
}: {
  title: string;
  open?: boolean;
  children: ReactNode;
}) {
  return (
    <details open={open} className="mb-2 border-b border-rule pb-2">
      <summary className="cursor-pointer font-semibold">{title}</summary>
      <div className="mt-1 space-y-1.5">{children}</div>
    </details>
  );
}
