'use client';
import { useEffect, useState } from 'react';
import { useLine } from '../api/line';

/** Shorter breaks are not told: a page that is left breaks its line as well. */
const PATIENCE = 700;

/** Says that Grento is away, and what becomes of what is being done. It goes away by itself. */
export function AwayLine() {
  const isThere = useLine();
  const [isTold, setTold] = useState(false);
  useEffect(() => {
    if (isThere) return;
    const timer = setTimeout(() => setTold(true), PATIENCE);
    return () => {
      clearTimeout(timer);
      setTold(false);
    };
  }, [isThere]);
  if (isThere || !isTold) return null;
  return (
    <div role="status" className="border-b border-rule-strong bg-wash-one px-4 py-1 text-small text-one">
      Grento is away. What you hear goes on, what you change is kept here and stored once it answers; this
      page goes on by itself.
    </div>
  );
}
