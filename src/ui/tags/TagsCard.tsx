'use client';
import { useQuery } from '@tanstack/react-query';
import { useId, useMemo, useState } from 'react';
import type { SampleEntry } from '@/contract/entry';
import type { SettledState } from '@/contract/settled';
import { FACETS, FACET_NAMES, SCALES, type Facet, type Tag } from '@/core/tags/facets';
import { proposePart, proposeTags } from '@/core/tags/proposeTags';
import { Button } from '../kit/Button';
import { Chip, RemovableChip } from '../kit/Chip';
import { Labelled, TextArea, TextField } from '../kit/Field';
import { WrittenField } from '../kit/WrittenField';
import { fetchShelfFacets } from '../api/shelf';

/** Where tags are typed. */
export const TAG_FIELD = 'typed-tags';

/** What is typed as a tag: a value of a facet, or a free word. */
function tagOfWord(word: string): Tag {
  const facet = FACET_NAMES.find((name) => (FACETS[name] as readonly string[]).includes(word.toLowerCase()));
  return facet ? { facet, value: word.toLowerCase() } : { facet: 'word', value: word };
}

/** Of a scale there is one value. */
const isScale = ({ facet }: Tag) => SCALES.includes(facet as Facet);

const same = (a: Tag, b: Tag) => a.facet === b.facet && a.value === b.value;

interface Props {
  entry: SampleEntry;
  /** The tags of this moment, where the card is drawn a moment later. */
  tagsNow?: () => Tag[];
  /** Settles parts of the sample as a step of its history. */
  settle: (patch: Partial<SettledState>, words: string) => void;
}

/** Facets, free words, rating, note and origin. What the measurement proposes has a dotted frame until it is taken. */
export function TagsCard({ entry, tagsNow, settle }: Props) {
  const { settled, measurement } = entry;
  const { tags } = settled;
  const { arrivedAs, name } = entry.summary;
  const proposed = useMemo(
    () => [...proposePart(arrivedAs ?? name, measurement), ...(measurement ? proposeTags(measurement) : [])],
    [arrivedAs, name, measurement],
  );
  const open = proposed.filter(({ tag }) => !tags.some(({ facet }) => facet === tag.facet));
  const setTags = (next: Tag[], words: string) => settle({ tags: next }, words);
  const now = () => tagsNow?.() ?? tags;
  const toggle = (tag: Tag) => {
    if (now().some((one) => same(one, tag)))
      return setTags(
        now().filter((one) => !same(one, tag)),
        `without “${tag.value}”`,
      );
    const others = isScale(tag) ? now().filter(({ facet }) => facet !== tag.facet) : now();
    setTags([...others, tag], `tagged “${tag.value}”`);
  };
  return (
    <div className="space-y-2.5 text-small">
      {open.length > 0 && (
        <Button
          className="h-auto! w-full py-1 whitespace-normal!"
          onClick={() =>
            setTags([...now(), ...open.map(({ tag }) => tag)], `accepted ${open.length} suggested tags`)
          }
        >
          Accept suggestions: {open.map(({ tag }) => tag.value).join(', ')}
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
                <Chip
                  key={value}
                  pressed={on}
                  isProposed={Boolean(hint)}
                  title={hint && `suggested: ${hint.reason}`}
                  onPress={() => toggle(tag)}
                >
                  {value}
                </Chip>
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
      <TextArea
        label="Note"
        className="h-14!"
        maxLength={4000}
        value={settled.note}
        onSet={(note) => settle({ note }, 'note changed')}
      />
      <div className="grid grid-cols-2 gap-2">
        <WrittenField
          label="Origin"
          value={settled.origin}
          onSet={(origin) => settle({ origin }, 'origin changed')}
        />
        <WrittenField
          label="Licence"
          value={settled.licence}
          onSet={(licence) => settle({ licence }, 'licence changed')}
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
          .filter(Boolean)
          .map(tagOfWord)
          .filter((tag) => !tags.some((one) => same(one, tag)));
        if (added.length)
          onChange(
            [
              ...tags.filter(({ facet }) => !added.some((one) => isScale(one) && one.facet === facet)),
              ...added,
            ],
            `tagged ${added.map(({ value }) => `“${value}”`).join(', ')}`,
          );
        setText('');
        // The next key is one of the screen again.
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
      }}
    >
      <Labelled label="Tags, Enter to add">
        <TextField
          id={TAG_FIELD}
          value={text}
          maxLength={200}
          placeholder="drums, rainy…"
          list={known}
          onChange={(event) => setText(event.target.value)}
        />
      </Labelled>
      <KnownWords id={known} />
      <ul className="mt-1 flex flex-wrap gap-1">
        {words.map((word) => (
          <li key={word.value}>
            <RemovableChip
              label={`Remove ${word.value}`}
              onRemove={() =>
                onChange(
                  tags.filter((tag) => !same(tag, word)),
                  `without “${word.value}”`,
                )
              }
            >
              {word.value}
            </RemovableChip>
          </li>
        ))}
      </ul>
    </form>
  );
}
