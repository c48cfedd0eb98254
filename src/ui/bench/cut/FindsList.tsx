'use client';
import clsx from 'clsx';
import { useMemo, useState } from 'react';
import { recipe, type Recipe } from '@/core/recipes/recipe';
import { named, parentOf } from '@/library/recipes/aims';
import type { Find, Finds } from '@/core/recipes/finds';
import { beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../../kit/Button';
import { barsText, percentText, signedText, timeText } from '@/words/figures';
import { BAR_CHOICES } from './cutFields';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { seamWords } from '../seam/seamWords';
import type { Bench } from '../useBench';
import type { Cut } from './useCut';
import { Checkbox } from '../../kit/Checkbox';
import { useKeyText, useShortcuts } from '../../kit/shortcuts';
import { Select } from '../../kit/Select';
import { Loading } from '../../kit/States';
import { Term } from '../../kit/Term';
import { CUT } from '../../shortcuts/shortcutTables';
import { useBenchModel } from '../useBenchModel';

interface Props {
  /** Null while they are looked for. */
  finds: Finds | null;
  onRender: (recipes: readonly Recipe[]) => void;
  /** Bars whose button was pressed last; null: none was. */
  wantedBars: number | null;
  /** The range that is selected by now is played. */
  onHear: () => void;
}

const SOUNDS = ['drums only', 'pitched', 'quiet', 'hits'] as const;
const BARS = [null, ...BAR_CHOICES];
/** Bars so much quieter than the usual one are quiet, dB. */
const QUIET_DB = -5;

interface FindFilter {
  bars: number | null;
  sound: (typeof SOUNDS)[number] | null;
}
const ANY: FindFilter = { bars: null, sound: null };

function isShown(find: Find, { bars, sound }: FindFilter): boolean {
  if (find.kind === 'hit') return sound === 'hits' || (sound === null && bars === null);
  if (bars !== null && find.bars !== bars) return false;
  if (sound === 'drums only') return find.sound === 'drums';
  if (sound === 'pitched') return find.sound === 'pitched';
  return sound === 'quiet' ? find.levelDb < QUIET_DB : sound === null;
}

export function FindsList({ finds, onRender, wantedBars, onHear }: Props) {
  const { bench, cut } = useBenchModel();
  const keyText = useKeyText();
  const [at, setAt] = useState(-1);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [filter, setAnyFilter] = useState<FindFilter>(ANY);
  const setFilter = (next: FindFilter) => {
    setAnyFilter(next);
    setAt(-1);
  };
  // They follow the length that is pressed above.
  const [length, setLength] = useState(wantedBars);
  if (length !== wantedBars) {
    setLength(wantedBars);
    if (wantedBars !== null) setFilter({ ...filter, bars: wantedBars });
  }
  const everything = useMemo((): Find[] => [...(finds?.stretches ?? []), ...(finds?.hits ?? [])], [finds]);
  const all = useMemo(() => everything.filter((find) => isShown(find, filter)), [everything, filter]);
  const show = (index: number) => {
    const find = all[index];
    if (!find) return;
    setAt(index);
    cut.change(patchOf(find, bench));
    onHear();
  };
  const toggle = (find: Find) =>
    setChosen((before) => {
      const next = new Set(before);
      if (!next.delete(nameOf(find))) next.add(nameOf(find));
      return next;
    });
  const render = () => {
    const taken = all.filter((find) => chosen.has(nameOf(find)));
    onRender(taken.flatMap((find) => recipeOf(find, bench, cut) ?? []));
    setChosen(new Set());
  };
  useShortcuts(CUT, {
    nextFind: () => show(Math.min(all.length - 1, at + 1)),
    previousFind: () => show(Math.max(0, at - 1)),
    select: () => all[at] && toggle(all[at]),
  });
  if (!finds) return <Loading what="finds" className="h-40 shrink-0 border-t border-rule-strong" />;
  return (
    <section aria-label="Finds" className="flex h-40 min-h-16 shrink flex-col border-t border-rule-strong">
      <div className="flex h-7 shrink-0 items-center gap-3 border-b border-rule px-2 text-small">
        <b>
          <Term of="finds">Finds</Term>
        </b>
        <span
          className="text-tiny whitespace-nowrap text-ink-soft"
          title={`${keyText(CUT.nextFind)} and ${keyText(CUT.previousFind)} step through them`}
        >
          {finds.stretches.length} loops, {finds.hits.length} hits
        </span>
        <Select
          label="Length of the finds"
          small
          className="ml-auto w-24"
          value={filter.bars}
          options={BARS}
          text={(bars) => (bars === null ? 'any length' : barsText(bars))}
          onChange={(bars) => setFilter({ ...filter, bars })}
        />
        {SOUNDS.map((sound) => (
          <Button
            key={sound}
            small
            pressed={filter.sound === sound}
            onClick={() => setFilter({ ...filter, sound: filter.sound === sound ? null : sound })}
          >
            {sound}
          </Button>
        ))}
        <Button small disabled={chosen.size === 0} onClick={render}>
          Render {chosen.size || ''} selected
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
            <Checkbox
              isBare
              label={`Select ${nameOf(find)}`}
              value={chosen.has(nameOf(find))}
              onValue={() => toggle(find)}
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
            {everything.length > 0
              ? 'None of the finds match.'
              : `No loops and no isolated hits found here.${bench.grid ? ' You can still select bars by hand.' : ''}`}
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
    return `${signedText(find.beforeDb, 0, 'dB')} before it, decays by ${find.fallsDb.toFixed(0)} dB in ${(find.until - find.at).toFixed(2)} s`;
  const { likeness, harmony, unevenDb, seam, shiftSeconds, sound } = find;
  return [
    sound === 'drums' ? 'drums only' : 'pitched',
    likeness === null
      ? 'nothing follows to compare with'
      : `what follows is ${percentText(likeness)} its beginning`,
    harmony !== null && `chords ${percentText(harmony)}`,
    `bar levels within ${unevenDb.toFixed(1)} dB`,
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
