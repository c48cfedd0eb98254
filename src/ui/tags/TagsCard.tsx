'use client';
import clsx from 'clsx';
import { X } from 'lucide-react';
import { useQuery } from '@tanstack/react-query';
import { useId, useMemo, useState } from 'react';
import type { SampleEntry } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import { FACETS, FACET_NAMES, SCALES, type Facet, type Tag } from '@/core/tags/facets';
import { proposePart, proposeTags } from '@/core/tags/proposeTags';
import { Button } from '../pieces/Button';
import { fieldClass, Labelled, TextField } from '../pieces/Field';
import { fetchShelfFacets } from '../api/shelf';
import { keepKeysFree } from '../pieces/pressedByMouse';

const same = (a: Tag, b: Tag) => a.facet === b.facet && a.value === b.value;

interface Props {
  entry: SampleEntry;
  /** Settles parts of the sample as a step of its history. */
  settle: (patch: Partial<SettledState>, words: string) => void;
}

/** Facets, free words, rating, note and origin. What the measurement proposes has a dotted frame until it is taken. */
export function TagsCard({ entry, settle }: Props) {
  const { settled, measurement } = entry;
  const { tags } = settled;
  const { arrivedAs, name } = entry.summary;
  const proposed = useMemo(
    () => [...proposePart(arrivedAs ?? name, measurement), ...(measurement ? proposeTags(measurement) : [])],
    [arrivedAs, name, measurement],
  );
  const open = proposed.filter(({ tag }) => !tags.some(({ facet }) => facet === tag.facet));
  const setTags = (next: Tag[], words: string) => settle({ tags: next }, words);
  const toggle = (tag: Tag) => {
    if (tags.some((one) => same(one, tag)))
      return setTags(
        tags.filter((one) => !same(one, tag)),
        `without “${tag.value}”`,
      );
    const others = SCALES.includes(tag.facet as Facet)
      ? tags.filter(({ facet }) => facet !== tag.facet)
      : tags;
    setTags([...others, tag], `tagged “${tag.value}”`);
  };
  return (
    <div className="space-y-2.5 text-small">
      {open.length > 0 && (
        <Button
          className="h-auto! w-full py-1 whitespace-normal!"
          onClick={() =>
            setTags([...tags, ...open.map(({ tag }) => tag)], `took ${open.length} proposed tags`)
          }
        >
          Take what is proposed: {open.map(({ tag }) => tag.value).join(', ')}
        </Button>
      )}
      {FACET_NAMES.map((facet) => (
        <fieldset key={facet}>
          <legend className="text-tiny text-ink-soft">{facet}</legend>
          <div className="flex flex-wrap gap-1">
            {FACETS[facet].map((value) => {
              const tag = { facet, value } as Tag;
              const on = tags.some((one) => same(one, tag));
              const hint = open.find((one) => same(one.tag, tag));
              return (
                <button
                  key={value}
                  type="button"
                  onMouseDown={keepKeysFree}
                  aria-pressed={on}
                  title={hint && `proposed: ${hint.reason}`}
                  className={clsx(
                    'border px-1.5 py-px',
                    on
                      ? 'border-ink bg-ink text-paper'
                      : hint
                        ? 'border-dashed border-ink'
                        : 'border-rule hover:border-ink-soft',
                  )}
                  onClick={() => toggle(tag)}
                >
                  {value}
                </button>
              );
            })}
          </div>
        </fieldset>
      ))}
      <FreeWords tags={tags} onChange={setTags} />
      <fieldset className="flex items-center gap-2">
        <legend className="float-left mr-2 text-ink-soft">Rating</legend>
        {[1, 2, 3, 4, 5].map((stars) => (
          <Button
            key={stars}
            className="w-7 px-0"
            pressed={settled.rating === stars}
            aria-label={`Rating ${stars} of 5`}
            onClick={() =>
              settle(
                { rating: settled.rating === stars ? null : stars },
                settled.rating === stars ? 'no rating' : `rated ${stars} of 5`,
              )
            }
          >
            {stars}
          </Button>
        ))}
      </fieldset>
      <Written
        label="Note"
        value={settled.note}
        rows={2}
        onWritten={(note) => settle({ note }, 'note changed')}
      />
      <div className="grid grid-cols-2 gap-2">
        <Written
          label="Origin"
          value={settled.origin}
          onWritten={(origin) => settle({ origin }, 'origin changed')}
        />
        <Written
          label="Licence"
          value={settled.licence}
          onWritten={(licence) => settle({ licence }, 'licence changed')}
        />
      </div>
    </div>
  );
}

/** Free words that stand on the Shelf already, for whoever begins to type one. */
export function KnownWords({ id }: { id: string }) {
  const { data } = useQuery({
    queryKey: ['shelf', 'facets', 'words'],
    queryFn: ({ signal }) => fetchShelfFacets(new URLSearchParams(), signal),
    staleTime: 60_000,
  });
  return (
    <datalist id={id}>
      {data?.facets
        .filter(({ facet }) => facet === 'word')
        .map(({ value }) => (
          <option key={value} value={value} />
        ))}
    </datalist>
  );
}

function FreeWords({ tags, onChange }: { tags: Tag[]; onChange: (tags: Tag[], words: string) => void }) {
  const [text, setText] = useState('');
  const known = useId();
  const words = tags.filter(({ facet }) => facet === 'word');
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const added = text
          .split(',')
          .map((word) => word.trim().slice(0, 40))
          .filter((value) => value && !words.some((word) => word.value === value))
          .map((value): Tag => ({ facet: 'word', value }));
        if (added.length)
          onChange([...tags, ...added], `tagged ${added.map(({ value }) => `“${value}”`).join(', ')}`);
        setText('');
      }}
    >
      <Labelled label="Free words, with Enter">
        <TextField
          value={text}
          maxLength={200}
          placeholder="puppet, rainy …"
          list={known}
          onChange={(event) => setText(event.target.value)}
        />
      </Labelled>
      <KnownWords id={known} />
      <ul className="mt-1 flex flex-wrap gap-1">
        {words.map((word) => (
          <li key={word.value} className="flex items-center border border-ink pl-1.5">
            {word.value}
            <button
              type="button"
              onMouseDown={keepKeysFree}
              aria-label={`Remove ${word.value}`}
              className="px-1 py-0.5 hover:text-one"
              onClick={() =>
                onChange(
                  tags.filter((tag) => !same(tag, word)),
                  `without “${word.value}”`,
                )
              }
            >
              <X className="size-3" />
            </button>
          </li>
        ))}
      </ul>
    </form>
  );
}

/** A text that is settled when it is left, not with every letter. */
function Written({
  label,
  value,
  rows,
  onWritten,
}: {
  label: string;
  value: string;
  rows?: number;
  onWritten: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const [shown, setShown] = useState(value);
  // Undo and other pages change it from outside.
  if (shown !== value) {
    setShown(value);
    setText(value);
  }
  const leave = () => text !== value && onWritten(text);
  return (
    <Labelled label={label}>
      {rows ? (
        <textarea
          className={`${fieldClass} h-auto py-1`}
          rows={rows}
          maxLength={4000}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={leave}
        />
      ) : (
        <TextField
          maxLength={300}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={leave}
        />
      )}
    </Labelled>
  );
}
