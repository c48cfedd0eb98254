'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { GitBranch } from 'lucide-react';
import Link from 'next/link';
import type { ReactNode } from 'react';
import type { Differences } from '@/core/recipes/differences';
import { differencesText } from '@/words/differences';
import type { Family } from '@/contract/renders';
import { fetchFamily } from '../api/renders';
import { useOpenOnBench } from '../api/useEntry';
import { draftOfRecipe, keepDraft } from './cutDrafts';
import { Button } from '../kit/Button';
import { keepKeysFree } from '../kit/pressedByMouse';

/** What a sample was made from, by which steps and how near to them, what else hangs together with it, and where it is used; nothing where it stands alone. */
export function FamilyCard({ sampleId }: { sampleId: string }) {
  const { data, error } = useQuery({
    queryKey: ['family', sampleId],
    queryFn: ({ signal }) => fetchFamily(sampleId, signal),
  });
  const openOnBench = useOpenOnBench();
  if (error) return <p className="text-small text-one">{error.message}</p>;
  if (
    !data ||
    (!data.made && !data.mixed && data.children.length + data.blends.length + data.packs.length === 0)
  )
    return null;
  const { made, mixed, children, siblings, blends, packs } = data;
  const again = () => {
    if (!made?.parent) return;
    keepDraft(made.parent.sampleId, draftOfRecipe(made.recipe));
    openOnBench(made.parent.sampleId);
  };
  return (
    <section aria-label="Family" className="mb-3 space-y-2 border-b border-rule pb-3 text-small">
      {made && (
        <div>
          <div className="flex items-center gap-1">
            <GitBranch className="size-4 shrink-0" aria-hidden /> rendered from{' '}
            {made.parent ? <Member one={made.parent} onOpen={openOnBench} /> : <span>a deleted sample</span>}
          </div>
          <p className="mt-0.5">{made.words}</p>
          <Compared differences={made.differences} />
          {made.isParentChanged && (
            <p className="mt-1 text-look">
              Its parent has changed since. This sample keeps the grid it was rendered with.
            </p>
          )}
          {made.parent && (
            <Button className="mt-1.5 h-6" onClick={again}>
              Render again with…
            </Button>
          )}
        </div>
      )}
      {mixed && (
        <div>
          <div className="flex items-center gap-1">
            <GitBranch className="size-4 shrink-0" aria-hidden /> exported from{' '}
            {mixed.blendId ? (
              <Link href={`/blend/${mixed.blendId}`} className="min-w-0 truncate font-medium hover:underline">
                {mixed.name}
              </Link>
            ) : (
              <span>a deleted blend</span>
            )}
          </div>
          <p className="mt-0.5">{mixed.words}</p>
          <Compared differences={mixed.differences} />
        </div>
      )}
      <Members title="siblings" all={siblings} onOpen={openOnBench} />
      <Members title="rendered from it" all={children} onOpen={openOnBench} />
      <Places title="used in blends" at="/blend" all={blends} />
      <Places title="used in packs" at="/pack" all={packs} />
    </section>
  );
}

/** Where it is used. */
function Places({ title, at, all }: { title: string; at: string; all: Family['blends'] }) {
  if (all.length === 0) return null;
  return (
    <Listed title={title} count={all.length}>
      {all.map(({ id, name }) => (
        <li key={id} className="truncate">
          <Link href={`${at}/${id}`} className="font-medium hover:underline">
            {name}
          </Link>
        </li>
      ))}
    </Listed>
  );
}

function Listed({ title, count, children }: { title: string; count: number; children: ReactNode }) {
  return (
    <div>
      <h3 className="text-tiny text-ink-soft">
        {title}, {count}
      </h3>
      <ul className="max-h-40 overflow-y-auto">{children}</ul>
    </div>
  );
}

/** How far what was written is from what was planned. */
function Compared({ differences }: { differences: Differences }) {
  return (
    <p
      className={clsx(
        'figures mt-1 text-tiny',
        differences.faults.length > 0 ? 'bg-wash-look px-1 text-look' : 'text-ink-soft',
      )}
      data-testid="differences"
    >
      {differencesText(differences)}
    </p>
  );
}

type One = Family['children'][number];

function Members({
  title,
  all,
  onOpen,
}: {
  title: string;
  all: readonly One[];
  onOpen: (sampleId: string) => void;
}) {
  if (all.length === 0) return null;
  return (
    <Listed title={title} count={all.length}>
      {all.map((one) => (
        <li key={one.sampleId} title={one.words}>
          <Member one={one} onOpen={onOpen} />
          {one.binned && <span className="text-tiny text-ink-soft"> in the bin</span>}
          <span className="block truncate text-tiny text-ink-soft">{one.words}</span>
        </li>
      ))}
    </Listed>
  );
}

function Member({ one, onOpen }: { one: One; onOpen: (sampleId: string) => void }) {
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      className="min-w-0 truncate font-medium underline-offset-2 hover:underline"
      onClick={() => onOpen(one.sampleId)}
    >
      {one.name}
    </button>
  );
}
