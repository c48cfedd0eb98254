'use client';
import { useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import type { SampleSummary } from '@/contract/entry';
import type { Target } from '@/contract/orders';
import { nameFromTemplate, TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { FACETS, SCALES, type Facet, type Tag } from '@/core/tags/facets';
import { joinStems } from '../api/stemSets';
import { Button } from '../pieces/Button';
import { fieldClass, Labelled, TextField } from '../pieces/Field';
import { Part } from './Part';
import { KnownWords } from '../tags/TagsCard';
import type { useBulk } from './useBulk';

interface PartProps {
  targets: readonly Target[];
  bulk: ReturnType<typeof useBulk>;
  onEnd: () => void;
}

/** Takes what is settled as right, for those that are sure enough. */
export function AcceptPart({ targets, bulk, onEnd }: PartProps) {
  const [above, setAbove] = useState('80');
  const share = Number(above.replace(',', '.')) / 100;
  const fits = above.trim() === '' || (share >= 0 && share <= 1);
  return (
    <Part
      onSubmit={() => {
        void bulk.perform({ do: 'accept', above: above.trim() === '' ? null : share }, targets);
        onEnd();
      }}
    >
      <Labelled label="those surer than, %">
        <TextField
          autoFocus
          className="figures w-24"
          inputMode="decimal"
          value={above}
          aria-invalid={!fits}
          onChange={(event) => setAbove(event.target.value)}
        />
      </Labelled>
      <span className="pb-1 text-small text-ink-soft">empty: all of the chosen, however sure</span>
      <Button type="submit" tone="strong" disabled={!fits}>
        Accept
      </Button>
    </Part>
  );
}

/** Measures again in a range, or with a meter. */
export function MeasurePart({ targets, bulk, onEnd }: PartProps) {
  const [low, setLow] = useState('');
  const [high, setHigh] = useState('');
  const [meter, setMeter] = useState('');
  const [from, to] = [Number(low), Number(high)];
  const ranged = low !== '' || high !== '';
  const fits = !ranged || (from >= 20 && to <= 500 && to >= from * 1.05);
  const [, beats, unit] = /^(\d+)\/(\d+)$/.exec(meter) ?? [];
  return (
    <Part
      onSubmit={() => {
        void bulk.perform(
          {
            do: 'measure',
            range: ranged ? { low: from, high: to } : null,
            meter: beats ? { beatsPerBar: Number(beats), beatUnit: Number(unit) } : null,
          },
          targets,
        );
        onEnd();
      }}
    >
      <Labelled label="between, BPM">
        <TextField
          autoFocus
          className="figures w-20"
          inputMode="decimal"
          value={low}
          aria-invalid={!fits}
          onChange={(event) => setLow(event.target.value)}
        />
      </Labelled>
      <Labelled label="and">
        <TextField
          className="figures w-20"
          inputMode="decimal"
          value={high}
          aria-invalid={!fits}
          onChange={(event) => setHigh(event.target.value)}
        />
      </Labelled>
      <Labelled label="meter">
        <select className={fieldClass} value={meter} onChange={(event) => setMeter(event.target.value)}>
          <option value="">any</option>
          {['2/4', '3/4', '4/4', '5/4', '6/8', '7/8'].map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      </Labelled>
      <Button type="submit" tone="strong" disabled={!fits}>
        Measure again
      </Button>
    </Part>
  );
}

/** Adds a tag, or takes it away. */
export function TagsPart({ targets, bulk, onEnd }: PartProps) {
  const [facet, setFacet] = useState<Facet | 'word'>('part');
  const [value, setValue] = useState<string>(FACETS.part[0]);
  const known = useId();
  const tag: Tag = { facet, value: value.trim() };
  const fits = tag.value !== '' && tag.value.length <= 40;
  const act = (add: Tag[], remove: Tag[]) => {
    void bulk.perform({ do: 'tags', add, remove }, targets);
    onEnd();
  };
  // A scale has one step: the others go.
  const others = (SCALES as readonly string[]).includes(facet)
    ? FACETS[facet as Facet].filter((step) => step !== value).map((step) => ({ facet, value: step }))
    : [];
  return (
    <Part onSubmit={() => act([tag], others)}>
      <Labelled label="facet">
        <select
          autoFocus
          className={fieldClass}
          value={facet}
          onChange={(event) => {
            const next = event.target.value as Facet | 'word';
            setFacet(next);
            setValue(next === 'word' ? '' : FACETS[next][0]);
          }}
        >
          {Object.keys(FACETS).map((name) => (
            <option key={name}>{name}</option>
          ))}
          <option value="word">free word</option>
        </select>
      </Labelled>
      <Labelled label="tag">
        {facet === 'word' ? (
          <TextField
            value={value}
            maxLength={40}
            list={known}
            onChange={(event) => setValue(event.target.value)}
          />
        ) : (
          <select className={fieldClass} value={value} onChange={(event) => setValue(event.target.value)}>
            {FACETS[facet].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        )}
      </Labelled>
      <KnownWords id={known} />
      <Button type="submit" tone="strong" disabled={!fits}>
        Add
      </Button>
      <Button disabled={!fits} onClick={() => act([], [tag])}>
        Remove
      </Button>
    </Part>
  );
}

const WRITTEN = ['origin', 'licence', 'note'] as const;

/** Writes rating, origin, licence or note into all of them; what is left empty stays as it is. */
export function WritePart({ targets, bulk, onEnd }: PartProps) {
  const [rating, setRating] = useState('');
  const [texts, setTexts] = useState({ origin: '', licence: '', note: '' });
  const said = WRITTEN.filter((name) => texts[name].trim() !== '');
  return (
    <Part
      onSubmit={() => {
        const patch = {
          ...(rating === '' ? {} : { rating: rating === 'none' ? null : Number(rating) }),
          ...Object.fromEntries(said.map((name) => [name, texts[name].trim()])),
        };
        void bulk.perform({ do: 'write', patch }, targets);
        onEnd();
      }}
    >
      <Labelled label="rating">
        <select
          autoFocus
          className={fieldClass}
          value={rating}
          onChange={(event) => setRating(event.target.value)}
        >
          <option value="">as it is</option>
          {[1, 2, 3, 4, 5].map((stars) => (
            <option key={stars} value={stars}>
              {stars} of 5
            </option>
          ))}
          <option value="none">none</option>
        </select>
      </Labelled>
      {WRITTEN.map((name) => (
        <Labelled key={name} label={name}>
          <TextField
            className="w-44"
            placeholder="as it is"
            maxLength={name === 'note' ? 4000 : 300}
            value={texts[name]}
            onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
          />
        </Labelled>
      ))}
      <Button type="submit" tone="strong" disabled={rating === '' && said.length === 0}>
        Write
      </Button>
    </Part>
  );
}

/** Renames by a template, with what becomes of the sample in hand. */
export function RenamePart({ targets, bulk, sample, onEnd }: PartProps & { sample: SampleSummary | null }) {
  const [template, setTemplate] = useState('{name}[ {bpm} bpm][ {key}]');
  const preview = sample
    ? nameFromTemplate(template, { ...sample, tags: sample.tags as Tag[] })
    : { name: '', fault: null };
  return (
    <Part
      onSubmit={() => {
        void bulk.perform({ do: 'rename', template }, targets);
        onEnd();
      }}
    >
      <Labelled label="template; what hangs on a missing field stands in [ ]">
        <TextField
          autoFocus
          className="figures w-96"
          value={template}
          maxLength={200}
          aria-invalid={preview.fault !== null}
          onChange={(event) => setTemplate(event.target.value)}
        />
      </Labelled>
      <div className="min-w-0 flex-1 pb-1 text-small">
        {preview.fault ? (
          <span className="text-one">{preview.fault}</span>
        ) : (
          sample && (
            <span className="block truncate">
              <span className="text-ink-soft">{sample.name} →</span> {preview.name}
            </span>
          )
        )}
        <span
          className="block truncate text-tiny text-ink-soft"
          title={Object.entries(TEMPLATE_FIELDS)
            .map(([field, words]) => `{${field}}: ${words}`)
            .join('\n')}
        >
          {Object.keys(TEMPLATE_FIELDS)
            .map((field) => `{${field}}`)
            .join(' ')}
        </span>
      </div>
      <Button type="submit" tone="strong" disabled={preview.fault !== null}>
        Rename
      </Button>
    </Part>
  );
}

/** Joins the chosen samples as stems of one piece. */
export function JoinPart({
  targets,
  sample,
  onEnd,
}: {
  targets: readonly Target[];
  sample: SampleSummary | null;
  onEnd: () => void;
}) {
  const queries = useQueryClient();
  const [name, setName] = useState(sample?.stemSet?.name ?? sample?.folder.split('/').pop() ?? '');
  return (
    <Part
      onSubmit={() => {
        void joinStems(
          targets.map(({ sampleId }) => sampleId),
          name,
        )
          .then(() => {
            toast(`“${name}”: ${targets.length} stems share start, grid and key.`);
            return queries.invalidateQueries();
          })
          .catch((error: Error) => toast.error(error.message));
        onEnd();
      }}
    >
      <Labelled label="name of the piece">
        <TextField
          autoFocus
          className="w-72"
          value={name}
          maxLength={300}
          onChange={(event) => setName(event.target.value)}
        />
      </Labelled>
      <Button type="submit" tone="strong" disabled={name.trim() === ''}>
        Join {targets.length} stems
      </Button>
    </Part>
  );
}
