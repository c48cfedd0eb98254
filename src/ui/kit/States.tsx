import clsx from 'clsx';
import type { ReactNode } from 'react';
import { Button } from './Button';

/** What stands in the place of something that has nothing to show. */
export function Empty({ children, className }: { children: ReactNode; className?: string }) {
  return <div className={clsx('mx-auto max-w-md p-10 text-center text-ink-soft', className)}>{children}</div>;
}

/** What stands there while it is loaded. */
export function Loading({ what, className }: { what: string; className?: string }) {
  return (
    <p role="status" className={clsx('p-10 text-center text-ink-soft', className)}>
      Loading {what}…
    </p>
  );
}

/** What stands there when it could not be loaded. */
function Failed({ error, onRetry, className }: { error: Error; onRetry?: () => void; className?: string }) {
  return (
    <div role="alert" className={clsx('p-10 text-center text-one', className)}>
      {error.message}{' '}
      {onRetry && (
        <Button small className="text-ink" onClick={onRetry}>
          Retry
        </Button>
      )}
    </div>
  );
}

interface Asked {
  isPending: boolean;
  error: Error | null;
  refetch?: () => unknown;
}

/** Loading or failed, where a query is one of the two; nothing once it is answered. */
export function Awaited({ of: { isPending, error, refetch }, what }: { of: Asked; what: string }) {
  if (error) return <Failed error={error} onRetry={refetch && (() => void refetch())} />;
  return isPending ? <Loading what={what} /> : null;
}
