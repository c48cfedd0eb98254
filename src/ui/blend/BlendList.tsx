'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Copy, Trash2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { toast } from 'sonner';
import { fetchBlends, makeBlend, takeBlendBack, throwBlendAway } from '../api/blends';
import { Button } from '../pieces/Button';
import { bpmText } from '../pieces/figures';
import { IconButton } from '../pieces/IconButton';

/** All blends, those changed last first. */
export function BlendList() {
  const router = useRouter();
  const queries = useQueryClient();
  const { data, error, isPending } = useQuery({
    queryKey: ['blends'],
    queryFn: ({ signal }) => fetchBlends(signal),
  });
  const make = async (of: { copyOf?: string }) => {
    try {
      const { blendId } = await makeBlend(of);
      router.push(`/blend/${blendId}`);
    } catch (failed) {
      toast.error((failed as Error).message);
    }
  };
  const again = () => void queries.invalidateQueries({ queryKey: ['blends'] });
  const away = async (blendId: string, name: string) => {
    try {
      await throwBlendAway(blendId);
      again();
      toast(`“${name}” is thrown away.`, {
        action: { label: 'Take it back', onClick: () => void takeBlendBack(blendId).then(again) },
      });
    } catch (failed) {
      toast.error((failed as Error).message);
    }
  };
  return (
    <div className="mx-auto flex h-full max-w-4xl flex-col p-6">
      <div className="flex items-center gap-3">
        <h1 className="flex-1 text-lg font-semibold">Blends</h1>
        <Button tone="strong" onClick={() => void make({})}>
          New blend
        </Button>
      </div>
      <p className="mt-1 text-ink-soft">
        Several samples heard together on one ruler of bars: do they belong together, how far are they bent,
        and what comes out?
      </p>
      {error && <p className="mt-6 text-one">{error.message}</p>}
      {isPending && <p className="mt-6 text-ink-soft">Looking for blends …</p>}
      {data?.length === 0 && (
        <p className="mt-10 text-center text-ink-soft">
          There is no blend yet. Make one, and put saved samples in.
        </p>
      )}
      <ul className="mt-4 min-h-0 flex-1 overflow-y-auto" aria-label="Blends">
        {data?.map(({ blendId, name, lanes, tempoBpm, changedAt }) => (
          <li key={blendId} className="flex items-center gap-3 border-b border-rule py-2">
            <Link href={`/blend/${blendId}`} className="min-w-0 flex-1 hover:underline">
              <span className="font-semibold">{name}</span>
              <span className="block truncate text-small text-ink-soft">
                {lanes.length === 0 ? 'empty' : lanes.join(', ')}
              </span>
            </Link>
            <span className="figures text-small">{tempoBpm === null ? '' : `${bpmText(tempoBpm)} BPM`}</span>
            <span className="text-small text-ink-soft">
              {new Date(changedAt).toLocaleDateString('en-GB')}
            </span>
            <IconButton label={`Copy ${name}`} onClick={() => void make({ copyOf: blendId })}>
              <Copy aria-hidden />
            </IconButton>
            <IconButton label={`Throw ${name} away`} onClick={() => void away(blendId, name)}>
              <Trash2 aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
    </div>
  );
}
