'use client';
import { useQuery } from '@tanstack/react-query';
import { Copy, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { ReactNode } from 'react';
import type { DocumentCalls } from '../api/documents';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { Awaited, Empty } from '../kit/States';
import { useAction } from '../kit/useAction';

interface Row {
  id: string;
  name: string;
  /** What it holds, in a line. */
  holds: string;
  /** A figure of it. */
  figure: ReactNode;
  changedAt: string;
}

interface Props<R> {
  calls: Pick<DocumentCalls<never, never, R>, 'kind' | 'list' | 'throwAway' | 'takeBack'> & {
    make: (of: { copyOf?: string }) => Promise<{ id: string }>;
  };
  title: string;
  /** What they are for. */
  about: string;
  /** What is said where there is none. */
  none: string;
  rowOf: (row: R) => Row;
}

/** All blends, or all packs, those changed last first. */
export function DocumentList<R>({ calls, title, about, none, rowOf }: Props<R>) {
  const router = useRouter();
  const { kind } = calls;
  const queryKey = [`${kind}s`];
  const asked = useQuery({ queryKey, queryFn: ({ signal }) => calls.list(signal) });
  const { data } = asked;
  const create = useAction({
    run: calls.make,
    renews: queryKey,
    then: ({ id }) => router.push(`/${kind}/${id}`),
  });
  const remove = useAction({
    run: ({ id }: Pick<Row, 'id' | 'name'>) => calls.throwAway(id),
    renews: queryKey,
    says: (_, { name }) => `“${name}” deleted.`,
    undo: (_, { id }) => calls.takeBack(id),
  });
  return (
    <div className="mx-auto flex h-full max-w-4xl flex-col p-6">
      <div className="flex items-center gap-3">
        <h1 className="flex-1 text-lg font-semibold">{title}</h1>
        <Button tone="strong" onClick={() => create.act({})}>
          New {kind}
        </Button>
      </div>
      <p className="mt-1 text-ink-soft">{about}</p>
      <Awaited of={asked} what={`${kind}s`} />
      {data?.length === 0 && <Empty>{none}</Empty>}
      <ul className="mt-4 min-h-0 flex-1 overflow-y-auto" aria-label={title}>
        {data?.map(rowOf).map(({ id, name, holds, figure, changedAt }) => (
          <li key={id} className="flex items-center gap-3 border-b border-rule py-2">
            <Link href={`/${kind}/${id}`} className="min-w-0 flex-1 hover:underline">
              <span className="font-semibold">{name}</span>
              <span className="block truncate text-small text-ink-soft">{holds}</span>
            </Link>
            <span className="figures text-small">{figure}</span>
            <span className="text-small text-ink-soft">
              {new Date(changedAt).toLocaleDateString('en-GB')}
            </span>
            <IconButton label={`Duplicate ${name}`} onClick={() => create.act({ copyOf: id })}>
              <Copy aria-hidden />
            </IconButton>
            <IconButton label={`Delete ${name}`} onClick={() => remove.act({ id, name })}>
              <Trash2 aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
    </div>
  );
}
