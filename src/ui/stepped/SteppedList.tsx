'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Copy, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { ReactNode } from 'react';
import { toast } from 'sonner';
import type { SteppedCalls } from '../api/stepped';
import { Button } from '../pieces/Button';
import { IconButton } from '../pieces/IconButton';

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
  calls: Pick<SteppedCalls<never, never, R>, 'kind' | 'list' | 'throwAway' | 'takeBack'> & {
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
export function SteppedList<R>({ calls, title, about, none, rowOf }: Props<R>) {
  const router = useRouter();
  const queries = useQueryClient();
  const { kind } = calls;
  const queryKey = [`${kind}s`];
  const { data, error, isPending } = useQuery({ queryKey, queryFn: ({ signal }) => calls.list(signal) });
  const make = async (of: { copyOf?: string }) => {
    try {
      const { id } = await calls.make(of);
      router.push(`/${kind}/${id}`);
    } catch (failed) {
      toast.error((failed as Error).message);
    }
  };
  const again = () => void queries.invalidateQueries({ queryKey });
  const away = async (id: string, name: string) => {
    try {
      await calls.throwAway(id);
      again();
      toast(`“${name}” is thrown away.`, {
        action: { label: 'Take it back', onClick: () => void calls.takeBack(id).then(again) },
      });
    } catch (failed) {
      toast.error((failed as Error).message);
    }
  };
  return (
    <div className="mx-auto flex h-full max-w-4xl flex-col p-6">
      <div className="flex items-center gap-3">
        <h1 className="flex-1 text-lg font-semibold">{title}</h1>
        <Button tone="strong" onClick={() => void make({})}>
          New {kind}
        </Button>
      </div>
      <p className="mt-1 text-ink-soft">{about}</p>
      {error && <p className="mt-6 text-one">{error.message}</p>}
      {isPending && <p className="mt-6 text-ink-soft">Looking for {kind}s …</p>}
      {data?.length === 0 && <p className="mt-10 text-center text-ink-soft">{none}</p>}
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
            <IconButton label={`Copy ${name}`} onClick={() => void make({ copyOf: id })}>
              <Copy aria-hidden />
            </IconButton>
            <IconButton label={`Throw ${name} away`} onClick={() => void away(id, name)}>
              <Trash2 aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
    </div>
  );
}
