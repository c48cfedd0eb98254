'use client';
import Link from 'next/link';
import { useEffect, type ReactNode } from 'react';
import type { SteppedKind } from '@/contract/stepped';
import { rememberLast } from './last';

interface Props<H> {
  kind: SteppedKind;
  id: string;
  /** null while it is on its way. */
  hand: H | null;
  error: Error | null;
  children: (hand: H) => ReactNode;
}

/** One blend or pack once it is here: the one that was worked on last from then on; or why it cannot be opened. */
export function Opened<H>({ kind, id, hand, error, children }: Props<H>) {
  const isHere = hand !== null;
  useEffect(() => {
    if (isHere) rememberLast(kind, id);
  }, [isHere, kind, id]);
  if (error)
    return (
      <div className="p-10 text-center">
        <p className="text-one">{error.message}</p>
        <p className="mt-3">
          <Link href={`/${kind}`} className="underline">
            All {kind}s
          </Link>
        </p>
      </div>
    );
  if (hand === null) return <p className="p-10 text-center text-ink-soft">Opening the {kind} …</p>;
  return children(hand);
}
