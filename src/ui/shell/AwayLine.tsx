'use client';
import { useEffect, useState } from 'react';
import { useLine } from '../api/line';

/** Shorter breaks are not told: a page that is left breaks its line as well. */
const PATIENCE = 700;

/** Says that Grento is away, and what becomes of what is being done. It goes away by itself. */
export function AwayLine() {
  const isThere = useLine();
  const [isTold, setMessage] = useState(false);
  useEffect(() => {
    if (isThere) return;
    const timer = setTimeout(() => setMessage(true), PATIENCE);
    return () => {
      clearTimeout(timer);
      setMessage(false);
    };
  }, [isThere]);
  if (isThere || !isTold) return null;
  return (
    <div role="status" className="border-b border-rule-strong bg-wash-one px-4 py-1 text-small text-one">
      No connection to the server. Playback continues; your changes are kept here and saved when the
      connection is back.
    </div>
  );
}
