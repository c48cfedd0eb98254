'use client';
import clsx from 'clsx';
import { Search, X } from 'lucide-react';
import { useState } from 'react';
import { keyLabel, type Key } from '@/core/harmony/keyNames';
import { KEY_NEAR, type KeyNear } from '@/core/harmony/nearKeys';
import { searchTerms } from '@/library/search/searchTerms';
import { LENGTHS, MEASURES, type Measure, type ShelfFacets, type ShelfView } from '@/contract/shelfQuery';
import { FACET_NAMES } from '@/core/tags/facets';
import { Button } from '../pieces/Button';
import { fieldClass, TextField } from '../pieces/Field';
import { aboutText, barsText, KIND_TEXT } from '../pieces/figures';
import { KeySelect } from '../pieces/KeySelect';
import { KeptSearches } from './KeptSearches';
import { WHOLE_SHELF } from './useShelfQuery';
import { keepKeysFree } from '../pieces/pressedByMouse';

interface Props {
  view: ShelfView;
  onView: (view: ShelfView) => void;
  counts: ShelfFacets | undefined;
  targetKey: Key | null;
}

/** What the Shelf is searched by: words, tempo, key, kind and facets with their counts. */
/** Values of these are shown from the start, the others when they are opened. */
const OPEN: readonly string[] = ['kind', 'part', 'bars', 'meter'];

const TITLES: Readonly<Record<string, string>> = { word: 'free words', rating: 'rating, at least' };
const KEY_NEAR_TEXT = (near: KeyNear) => (near === 'exactly' ? 'exactly' : `within ${near}`);

export function ShelfFilters({ view, onView, counts, targetKey }: Props) {
  const { facets = [], exact = true } = counts ?? {};
  const set = (patch: Partial<ShelfView>) => onView({ ...view, ...patch });
  const { keyTonic: tonic, keyMode: mode } = view;
  const key = tonic !== null && mode !== null ? { tonic, mode } : null;
  const counted = (facet: string, press: (value: string, isOn: boolean) => Partial<ShelfView>) => {
    const found = facets.filter((one) => one.facet === facet);
    const values =
      facet === 'rating'
        ? found.map((one) => ({
            ...one,
            // At least as good: the better ones belong to it.
            count: found.reduce((sum, other) => sum + (other.value >= one.value ? other.count : 0), 0),
          }))
        : found;
    return (
      <Counted
        key={facet}
        title={TITLES[facet] ?? facet}
        exact={exact}
        values={(facet in IN_ORDER ? [...values].sort(IN_ORDER[facet]) : values).map(({ value, count }) => {
          const on = isOn(view, facet, value);
          return { value: wordsFor(facet, value), count, on, press: () => set(press(value, on)) };
        })}
      />
    );
  };
  const toggleTag = (tag: string, on: boolean) => ({
    tags: on ? view.tags.filter((one) => one !== tag) : [...view.tags, tag],
  });
  const measure = (name: Measure) =>
    counted(name, (value, on) => (on ? without(name) : narrowedBy(name, value)));
  return (
    <div className="space-y-2.5 text-small">
      <label className="relative block">
        <span className="sr-only">Search the Shelf</span>
        <Search className="pointer-events-none absolute left-2 top-1.5 size-4 text-ink-soft" aria-hidden />
        <TextField
          className="w-full pl-7"
          type="search"
          placeholder="words, Dm, 90-95, 3/4 slow"
          value={view.text}
          onChange={(event) => set({ text: event.target.value })}
        />
      </label>
      <Understood text={view.text} onText={(text) => set({ text })} />
      <KeptSearches view={view} onView={onView} />
      <fieldset>
        <legend className="text-ink-soft">Tempo, BPM</legend>
        <div className="flex items-center gap-1.5">
          <NumberField
            label="Tempo from"
            value={view.tempoFrom}
            onValue={(tempoFrom) => set({ tempoFrom })}
          />
          –
          <NumberField label="Tempo to" value={view.tempoTo} onValue={(tempoTo) => set({ tempoTo })} />
        </div>
        <label className="mt-1 flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-ink"
            checked={view.alsoHalfDouble}
            onChange={(event) => set({ alsoHalfDouble: event.target.checked })}
          />
          also half and double
        </label>
      </fieldset>
      <fieldset>
        <legend className="text-ink-soft">Key</legend>
        <div className="flex gap-1.5">
          <KeySelect
            label="Key"
            className="min-w-0 flex-1"
            value={key}
            onChange={(chosen) => set({ keyTonic: chosen?.tonic ?? null, keyMode: chosen?.mode ?? null })}
            none="any"
          />
          <select
            aria-label="How near the key"
            className={clsx(fieldClass, 'w-29 px-1')}
            disabled={!key}
            value={view.keyNear}
            onChange={(event) => set({ keyNear: event.target.value as KeyNear })}
          >
            {KEY_NEAR.map((near) => (
              <option key={near} value={near}>
                {KEY_NEAR_TEXT(near)}
              </option>
            ))}
          </select>
        </div>
        {targetKey && (key?.tonic !== targetKey.tonic || key.mode !== targetKey.mode) && (
          <button
            type="button"
            onMouseDown={keepKeysFree}
            className="mt-1 underline underline-offset-2 hover:text-trace"
            onClick={() =>
              set({
                keyTonic: targetKey.tonic,
                keyMode: targetKey.mode,
                keyNear: view.keyNear === 'exactly' ? '2 semitones' : view.keyNear,
              })
            }
          >
            near the target’s, {keyLabel(targetKey)}
          </button>
        )}
      </fieldset>
      {measure('kind')}
      {counted('part', (value, on) => toggleTag(`part:${value}`, on))}
      {(['bars', 'meter', 'length'] as const).map(measure)}
      {FACET_NAMES.filter((facet) => facet !== 'part').map((facet) =>
        counted(facet, (value, on) => toggleTag(`${facet}:${value}`, on)),
      )}
      {(['moves', 'proof', 'rating', 'made', 'origin', 'licence'] as const).map(measure)}
      {counted('word', (value, on) => toggleTag(`word:${value}`, on))}
      {view.parent && (
        <Button className="w-full" onClick={() => set({ parent: null })}>
          Not only what was made of one
        </Button>
      )}
      <Button
        className="w-full"
        disabled={JSON.stringify(view) === JSON.stringify(WHOLE_SHELF)}
        onClick={() => onView(WHOLE_SHELF)}
      >
        Show the whole Shelf
      </Button>
    </div>
  );
}

function wordsFor(facet: string, value: string): string {
  if (facet === 'kind') return KIND_TEXT[value as 'loop'] ?? value;
  return facet === 'bars' ? barsText(Number(value)) : value;
}

type Value = { value: string };
const byNumber = (a: Value, b: Value) => Number(a.value) - Number(b.value);
const lengthPlace = ({ value }: Value) => LENGTHS.findIndex(({ words }) => words === value);
/** Values that have an order of their own stand in it, the others by how frequent they are. */
const IN_ORDER: Readonly<Record<string, (a: Value, b: Value) => number>> = {
  bars: byNumber,
  rating: (a, b) => byNumber(b, a),
  length: (a, b) => lengthPlace(a) - lengthPlace(b),
};

/** What a value of a measure narrows the view to. */
function narrowedBy(name: Measure, value: string): Partial<ShelfView> {
  switch (name) {
    case 'bars':
      return { bars: Number(value) };
    case 'meter': {
      const [beatsPerBar, beatUnit] = value.split('/').map(Number);
      return { beatsPerBar, beatUnit };
    }
    case 'length': {
      const { from, to } = LENGTHS.find(({ words }) => words === value) ?? LENGTHS[0];
      return { lengthFrom: from, lengthTo: to };
    }
    case 'rating':
      return { ratingFrom: Number(value) };
    default:
      return { [name]: value };
  }
}

/** The same measure, asked for no more. */
const without = (name: Measure): Partial<ShelfView> =>
  Object.fromEntries(Object.keys(narrowedBy(name, '')).map((field) => [field, null]));

function isOn(view: ShelfView, facet: string, value: string): boolean {
  if (!(MEASURES as readonly string[]).includes(facet)) return view.tags.includes(`${facet}:${value}`);
  const wanted = Object.entries(narrowedBy(facet as Measure, value)) as [keyof ShelfView, unknown][];
  return wanted.every(([field, one]) => view[field] === one);
}

/** The measures among what is typed, as they were understood; a press takes one out. */
function Understood({ text, onText }: { text: string; onText: (text: string) => void }) {
  const { terms } = searchTerms(text);
  if (terms.length === 0) return null;
  return (
    <ul aria-label="Understood as" className="flex flex-wrap gap-1">
      {terms.map(({ words, from, to }) => (
        <li key={from}>
          <button
            type="button"
            onMouseDown={keepKeysFree}
            aria-label={`Without ${words}`}
            className="inline-flex items-center gap-1 border border-trace px-1.5 py-px text-trace hover:bg-wash-ink"
            onClick={() => onText(`${text.slice(0, from)}${text.slice(to)}`.replace(/\s+/g, ' ').trim())}
          >
            {words} <X className="size-3" aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}

function NumberField({
  label,
  value,
  onValue,
}: {
  label: string;
  value: number | null;
  onValue: (value: number | null) => void;
}) {
  const [text, setText] = useState(value === null ? '' : String(value));
  const [shown, setShown] = useState(value);
  if (shown !== value) {
    setShown(value);
    if (Number(text) !== value) setText(value === null ? '' : String(value));
  }
  const number = Number(text.replace(',', '.'));
  const bad = text !== '' && !(number >= 0 && number <= 1000);
  return (
    <TextField
      aria-label={label}
      aria-invalid={bad}
      inputMode="decimal"
      placeholder="any"
      className="figures w-full"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        const next = Number(event.target.value.replace(',', '.'));
        if (event.target.value === '') onValue(null);
        else if (next >= 0 && next <= 1000) onValue(next);
      }}
    />
  );
}

function Counted({
  title,
  values,
  exact,
}: {
  title: string;
  values: { value: string; count: number; on: boolean; press: () => void }[];
  /** False: the counts are estimates. */
  exact: boolean;
}) {
  const chosen = values.filter(({ on }) => on);
  const [isOpen, setOpen] = useState(OPEN.includes(title));
  if (values.length === 0) return null;
  return (
    <details open={isOpen} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary
        className="cursor-pointer text-ink-soft marker:text-tiny hover:text-ink"
        onMouseDown={keepKeysFree}
      >
        {title}
        {!isOpen && chosen.length > 0 && (
          <b className="ml-1.5 text-ink">{chosen.map(({ value }) => value).join(', ')}</b>
        )}
      </summary>
      <div role="group" aria-label={title} className="mt-0.5 flex flex-wrap gap-1">
        {values.map(({ value, count, on, press }) => (
          <button
            key={value}
            type="button"
            onMouseDown={keepKeysFree}
            aria-pressed={on}
            className={clsx(
              'border px-1.5 py-px',
              on ? 'border-ink bg-ink text-paper' : 'border-rule-strong hover:border-ink',
            )}
            onClick={press}
          >
            {value} <span className="figures opacity-75">{exact ? count : aboutText(count)}</span>
          </button>
        ))}
      </div>
    </details>
  );
}
