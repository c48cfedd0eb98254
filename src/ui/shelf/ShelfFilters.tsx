'use client';
import clsx from 'clsx';
import { Search, X } from 'lucide-react';
import { useState } from 'react';
import { searchTerms } from '@/core/library/searchTerms';
import type { ShelfFacets } from '@/core/library/shelfQuery';
import { FACET_NAMES } from '@/core/tags/facets';
import { Button } from '../pieces/Button';
import { Labelled, TextField } from '../pieces/Field';
import { aboutText, KIND_TEXT } from '../pieces/figures';
import { KeySelect } from '../pieces/KeySelect';
import { WHOLE_SHELF, type ShelfView } from './useShelfQuery';
import { keepKeysFree } from '../pieces/pressedByMouse';

interface Props {
  view: ShelfView;
  onView: (view: ShelfView) => void;
  counts: ShelfFacets | undefined;
}

/** What the Shelf is searched by: words, tempo, key, kind and facets with their counts. */
export function ShelfFilters({ view, onView, counts }: Props) {
  const { facets = [], kinds = [], exact = true } = counts ?? {};
  const set = (patch: Partial<ShelfView>) => onView({ ...view, ...patch });
  const toggleTag = (tag: string) =>
    set({ tags: view.tags.includes(tag) ? view.tags.filter((one) => one !== tag) : [...view.tags, tag] });
  const { keyTonic: tonic, keyMode: mode } = view;
  const key = tonic !== null && mode !== null ? { tonic, mode } : null;
  return (
    <div className="space-y-3 text-small">
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
      <Labelled label="Key">
        <KeySelect
          value={key}
          onChange={(chosen) => set({ keyTonic: chosen?.tonic ?? null, keyMode: chosen?.mode ?? null })}
          none="any"
        />
      </Labelled>
      <Counted
        title="kind"
        values={kinds.map(({ kind, count }) => ({
          value: KIND_TEXT[kind] ?? kind,
          count,
          on: view.kind === kind,
          press: () => set({ kind: view.kind === kind ? null : kind }),
        }))}
        exact={exact}
      />
      {[...FACET_NAMES, 'word' as const].map((facet) => (
        <Counted
          key={facet}
          title={facet === 'word' ? 'free words' : facet}
          values={facets
            .filter((one) => one.facet === facet)
            .map(({ value, count }) => ({
              value,
              count,
              on: view.tags.includes(`${facet}:${value}`),
              press: () => toggleTag(`${facet}:${value}`),
            }))}
          exact={exact}
        />
      ))}
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
  if (values.length === 0) return null;
  return (
    <fieldset>
      <legend className="text-ink-soft">{title}</legend>
      <div className="flex flex-wrap gap-1">
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
    </fieldset>
  );
}
