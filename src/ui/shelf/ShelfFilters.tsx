'use client';
import { useState } from 'react';
import { keyLabel, type Key } from '@/core/harmony/keyNames';
import { KEY_NEAR, type KeyNear } from '@/core/harmony/nearKeys';
import { searchTerms } from '@/library/search/searchTerms';
import { LENGTHS, MEASURES, type Measure, type ShelfFacets, type ShelfView } from '@/contract/shelfQuery';
import { FACET_NAMES } from '@/core/tags/facets';
import { Button, TextButton } from '../kit/Button';
import { Checkbox } from '../kit/Checkbox';
import { Chip, RemovableChip } from '../kit/Chip';
import { barsText, countText, KIND_TEXT } from '@/words/figures';
import { KeySelect } from '../kit/KeySelect';
import { NumberField } from '../kit/NumberField';
import { SearchField } from '../kit/SearchField';
import { Select } from '../kit/Select';
import { SavedSearches } from './SavedSearches';
import { WHOLE_SHELF } from './useShelfQuery';
import { keepKeysFree } from '../kit/pressedByMouse';

interface Props {
  view: ShelfView;
  onView: (view: ShelfView) => void;
  counts: ShelfFacets | undefined;
  targetKey: Key | null;
}

/** Values of these are shown from the start, the others when they are opened. */
const OPEN: readonly string[] = ['Kind', 'Part', 'Bars', 'Time signature'];

const TITLES: Readonly<Record<string, string>> = {
  kind: 'Kind',
  part: 'Part',
  bars: 'Bars',
  meter: 'Time signature',
  length: 'Length',
  'made by': 'Sound source',
  feel: 'Feel',
  moves: 'Steady or moving',
  proof: 'Proof',
  rating: 'Rating at least',
  lacks: 'Missing',
  made: 'Original or rendered',
  origin: 'Origin',
  licence: 'Licence',
  word: 'Words',
};
const KEY_NEAR_TEXT = (near: KeyNear) => (near === 'exactly' ? 'exactly' : `within ${near}`);

/** What the Shelf is searched by: words, tempo, key, kind and facets with their counts. */
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
  const measure = (name: Measure | 'lacks') =>
    counted(name, (value, on) => (on ? without(name) : narrowedBy(name, value)));
  return (
    <div className="space-y-2.5 text-small">
      <SearchField
        label="Search the Shelf"
        placeholder="words, Dm, 90-95, 3/4, slow"
        className="w-full"
        value={view.text}
        onValue={(text) => set({ text })}
      />
      <Understood text={view.text} onText={(text) => set({ text })} />
      <SavedSearches view={view} onView={onView} />
      <fieldset>
        <legend className="text-ink-soft">Tempo, BPM</legend>
        <div className="flex items-center gap-1.5">
          {(['tempoFrom', 'tempoTo'] as const).map((end) => (
            <NumberField
              key={end}
              label={end === 'tempoFrom' ? 'Tempo from' : 'Tempo to'}
              isLive
              className="w-full"
              placeholder={end === 'tempoFrom' ? 'from' : 'to'}
              value={view[end]}
              least={0}
              most={1000}
              onValue={(bpm) => set({ [end]: bpm })}
              onEmpty={() => set({ [end]: null })}
            />
          ))}
        </div>
        <Checkbox
          className="mt-1"
          label="also half and double"
          value={view.alsoHalfDouble}
          onValue={(alsoHalfDouble) => set({ alsoHalfDouble })}
        />
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
          <Select
            label="Key distance"
            className="w-29"
            disabled={!key}
            value={view.keyNear}
            options={KEY_NEAR}
            text={KEY_NEAR_TEXT}
            onChange={(keyNear) => set({ keyNear })}
          />
        </div>
        {targetKey && (key?.tonic !== targetKey.tonic || key.mode !== targetKey.mode) && (
          <TextButton
            className="mt-1"
            onClick={() =>
              set({
                keyTonic: targetKey.tonic,
                keyMode: targetKey.mode,
                keyNear: view.keyNear === 'exactly' ? '2 semitones' : view.keyNear,
              })
            }
          >
            near the target, {keyLabel(targetKey)}
          </TextButton>
        )}
      </fieldset>
      {measure('kind')}
      {counted('part', (value, on) => toggleTag(`part:${value}`, on))}
      {(['bars', 'meter', 'length'] as const).map(measure)}
      {FACET_NAMES.filter((facet) => facet !== 'part').map((facet) =>
        counted(facet, (value, on) => toggleTag(`${facet}:${value}`, on)),
      )}
      {(['moves', 'proof', 'rating', 'made', 'origin', 'licence', 'lacks'] as const).map(measure)}
      {counted('word', (value, on) => toggleTag(`word:${value}`, on))}
      {view.parent && (
        <Button className="w-full" onClick={() => set({ parent: null })}>
          Show all, not only renders of one sample
        </Button>
      )}
      <Button
        className="w-full"
        disabled={JSON.stringify(view) === JSON.stringify(WHOLE_SHELF)}
        onClick={() => onView(WHOLE_SHELF)}
      >
        Clear all filters
      </Button>
    </div>
  );
}

function wordsFor(facet: string, value: string): string {
  if (facet === 'kind') return KIND_TEXT[value as 'loop'] ?? value;
  if (facet === 'made') return value === 'derived' ? 'rendered' : 'original';
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
function narrowedBy(name: Measure | 'lacks', value: string): Partial<ShelfView> {
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
const without = (name: Measure | 'lacks'): Partial<ShelfView> =>
  Object.fromEntries(Object.keys(narrowedBy(name, '')).map((field) => [field, null]));

function isOn(view: ShelfView, facet: string, value: string): boolean {
  if (facet !== 'lacks' && !(MEASURES as readonly string[]).includes(facet))
    return view.tags.includes(`${facet}:${value}`);
  const wanted = Object.entries(narrowedBy(facet as Measure, value)) as [keyof ShelfView, unknown][];
  return wanted.every(([field, one]) => view[field] === one);
}

/** The filters among the words of the search; each can be removed. */
function Understood({ text, onText }: { text: string; onText: (text: string) => void }) {
  const { terms } = searchTerms(text);
  if (terms.length === 0) return null;
  return (
    <ul aria-label="Filters found in the search" className="flex flex-wrap gap-1">
      {terms.map(({ words, from, to }) => (
        <li key={from}>
          <RemovableChip
            label={`Without ${words}`}
            onRemove={() => onText(`${text.slice(0, from)}${text.slice(to)}`.replace(/\s+/g, ' ').trim())}
          >
            {words}
          </RemovableChip>
        </li>
      ))}
    </ul>
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
          <Chip key={value} pressed={on} onPress={press}>
            {value} <span className="figures opacity-75">{countText(count, exact)}</span>
          </Chip>
        ))}
      </div>
    </details>
  );
}
