'use client';
import clsx from 'clsx';
import { useMemo, useState } from 'react';
import { recipe, type Recipe } from '@/core/recipes/recipe';
import { named, parentOf } from '@/library/recipes/aims';
import type { Find, Finds } from '@/core/recipes/finds';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../../pieces/Button';
import { barsText, percentText, signedText, timeText } from '../../pieces/figures';
import { keepKeysFree } from '../../pieces/pressedByMouse';
import { character, useKeys } from '../../shell/keys';
import { seamWords } from '../seam/seamWords';
import type { Bench } from '../useBench';
import type { Cut } from './useCut';

interface Props {
  bench: Bench;
  /** Null while it is looked for. */
  finds: Finds | null;
  cut: Cut;
  onMake: (recipes: readonly Recipe[]) => Promise<void>;
}

/** What the sample offers for cutting, best first: heard with a press, taken with another, several at once. */
export function FindsList({ bench, finds, cut, onMake }: Props) {
  const [at, setAt] = useState(-1);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const all = useMemo((): Find[] => [...(finds?.stretches ?? []), ...(finds?.hits ?? [])], [finds]);
  const show = (index: number) => {
    const find = all[index];
    if (!find) return;
    setAt(index);
    cut.change(patchOf(find, bench));
  };
  const toggle = (find: Find) =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(nameOf(find))) next.add(nameOf(find));
      return next;
    });
  const make = () => {
    const taken = all.filter((find) => chosen.has(nameOf(find)));
    void onMake(taken.flatMap((find) => recipeOf(find, bench, cut) ?? []));
    setChosen(new Set());
  };
  useKeys([
    {
      keys: 'N',
      does: 'The next find',
      group: 'Cutting',
      matches: character('n'),
      run: () => show(Math.min(all.length - 1, at + 1)),
    },
    {
      keys: 'P',
      does: 'The find before',
      group: 'Cutting',
      matches: character('p'),
      run: () => show(Math.max(0, at - 1)),
    },
    {
      keys: 'J',
      does: 'Choose the find with others',
      group: 'Cutting',
      matches: character('j'),
      run: () => all[at] && toggle(all[at]),
    },
  ]);
  if (!finds)
    return (
      <p className="h-40 shrink-0 border-t border-rule-strong p-2 text-small text-ink-soft">
        Looking for what goes round …
      </p>
    );
  return (
    <section aria-label="Finds" className="flex h-40 shrink-0 flex-col border-t border-rule-strong">
      <div className="flex h-7 shrink-0 items-center gap-3 border-b border-rule px-2 text-small">
        <b>Finds</b>
        <span className="text-tiny text-ink-soft">
          {finds.stretches.length} stretches that go round, {finds.hits.length} hits that stand free · N and P
          walk along them
        </span>
        <Button className="ml-auto h-5.5" disabled={chosen.size === 0} onClick={make}>
          Make the {chosen.size || ''} chosen
        </Button>
      </div>
      <ul className="min-h-0 flex-1 overflow-y-auto text-small">
        {all.map((find, i) => (
          <li
            key={nameOf(find)}
            aria-current={i === at || undefined}
            className={clsx(
              'flex items-center gap-2 border-b border-rule px-2',
              i === at ? 'bg-wash-ink' : 'hover:bg-paper',
            )}
          >
            <input
              type="checkbox"
              className="accent-ink"
              aria-label={`Choose ${nameOf(find)}`}
              checked={chosen.has(nameOf(find))}
              onChange={() => toggle(find)}
            />
            <button
              type="button"
              onMouseDown={keepKeysFree}
              className="min-w-0 flex-1 truncate py-0.5 text-left"
              onClick={() => show(i)}
            >
              <b className="inline-block w-28">{nameOf(find)}</b>
              <span className="figures text-tiny text-ink-soft">{figuresOf(find)}</span>
            </button>
          </li>
        ))}
        {all.length === 0 && (
          <li className="p-2 text-ink-soft">
            Nothing here goes round by itself, and no hit stands free.
            {bench.grid && ' Bars can be chosen all the same.'}
          </li>
        )}
      </ul>
    </section>
  );
}

const nameOf = (find: Find) =>
  find.kind === 'hit' ? `hit at ${timeText(find.at, 2)}` : `${barsText(find.bars)} from ${find.bar}`;

function figuresOf(find: Find): string {
  if (find.kind === 'hit')
    return `${signedText(find.beforeDb, 0, 'dB')} before it, falls by ${find.fallsDb.toFixed(0)} dB in ${(find.until - find.at).toFixed(2)} s`;
  const { likeness, harmony, unevenDb, seam, shiftSeconds } = find;
  return [
    likeness === null
      ? 'nothing follows that would tell'
      : `what follows is ${percentText(likeness)} its beginning`,
    harmony !== null && `chords ${percentText(harmony)}`,
    `bars even to ${unevenDb.toFixed(1)} dB`,
    `${seamWords(seam).words}${Math.abs(shiftSeconds) > 1e-6 ? ` at ${signedText(1000 * shiftSeconds, 1, 'ms')}` : ''}`,
  ]
    .filter(Boolean)
    .join(' · ');
}

/** What choosing a find makes of the draft. */
function patchOf(find: Find, { grid }: Bench): Partial<Cut['draft']> {
  if (!grid) return {};
  const size = feltBeatsPerBar(grid.meter);
  const plain = recipe.omit({ parent: true, name: true, kind: true }).parse({});
  if (find.kind === 'stretch') {
    const region = { from: (find.bar - 1) * size, to: (find.bar - 1 + find.bars) * size };
    return {
      region: recipe.shape.region.parse(region),
      kind: 'loop',
      edge: 'quietest',
      time: plain.time,
      times: 1,
    };
  }
  const region = { from: beatPosition(grid, find.at), to: beatPosition(grid, find.until), fadeOutMs: 5 };
  return {
    region: recipe.shape.region.parse(region),
    kind: 'oneshot',
    edge: 'grid',
    time: plain.time,
    times: 1,
  };
}

/** A find as it is written when several are taken at once. */
function recipeOf(find: Find, bench: Bench, { draft }: Cut): Recipe | null {
  const parent = parentOf(bench.entry);
  if (!parent) return null;
  const { region, kind } = patchOf(find, bench);
  const shiftSeconds = find.kind === 'stretch' ? find.shiftSeconds : 0;
  const { write, pitch, template } = draft;
  return named(
    { parent, kind: kind ?? 'loop', region: region && { ...region, shiftSeconds }, write, pitch },
    bench.entry,
    find.kind === 'hit' ? '{name} hit bar {bar}' : template,
  );
}
