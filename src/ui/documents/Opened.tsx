'use client';
import Link from 'next/link';
import { useEffect, type ReactNode } from 'react';
import type { DocumentKind } from '@/contract/documents';
import { rememberLast } from './last';

interface Props<H> {
  kind: DocumentKind;
  id: string;
  /** null while it is on its way. */
  editor: H | null;
  error: Error | null;
  children: (editor: H) => ReactNode;
}

/** One blend or pack once it is here: the one that was worked on last from then on; or why it cannot be opened. */
export function Opened<H>({ kind, id, editor, error, children }: Props<H>) {
  const isHere = editor !== null;
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
  if (editor === null) return <p className="p-10 text-center text-ink-soft">Opening the {kind}…</p>;
  return children(editor);
}
