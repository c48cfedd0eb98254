'use client';
import { zodResolver } from '@hookform/resolvers/zod';
import { useId, useState } from 'react';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { FACETS, SCALES, type Facet, type Tag } from '@/core/tags/facets';
import type { SampleSummary } from '@/contract/entry';
import { BULK_AT_ONCE, type Target } from '@/contract/orders';
import { Button } from '../kit/Button';
import { Labelled, TextField } from '../kit/Field';
import { numberIn } from '../kit/numbers';
import { Select } from '../kit/Select';
import { KnownWords } from '../tags/TagsCard';
import { Part } from './Part';
import type { useBulk } from './useBulk';

export interface PartProps {
  targets: readonly Target[];
  bulk: ReturnType<typeof useBulk>;
  /** One of them, for showing what will become of it. */
  sample: SampleSummary | null;
  onEnd: () => void;
}

/** A typed number within bounds, or nothing. */
const typedNumber = (least: number, most: number) =>
  z
    .string()
    .transform((text) => (text.trim() === '' ? null : (numberIn(text) ?? Number.NaN)))
    .refine((value) => value === null || (value >= least && value <= most), `${least} to ${most}`);

const acceptForm = z.object({ above: typedNumber(0, 100) });

/** Accepts the values of those that are certain enough. */
export function AcceptPart({ targets, bulk, onEnd }: PartProps) {
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(acceptForm),
    defaultValues: { above: '80' },
    mode: 'onChange',
  });
  const { errors } = formState;
  return (
    <Part
      onSubmit={handleSubmit(({ above }) => {
        void bulk.perform({ do: 'accept', above: above === null ? null : above / 100 }, targets);
        onEnd();
      })}
      fault={errors.above?.message}
    >
      <Labelled label="confidence above (%)">
        <TextField
          autoFocus
          className="figures w-24"
          inputMode="decimal"
          aria-invalid={Boolean(errors.above)}
          {...register('above')}
        />
      </Labelled>
      <span className="pb-1 text-small text-ink-soft">empty: all selected samples</span>
      <Button type="submit" tone="strong" disabled={Boolean(errors.above)}>
        Accept
      </Button>
    </Part>
  );
}

const METERS = ['any', '2/4', '3/4', '4/4', '5/4', '6/8', '7/8'] as const;
const measureForm = z
  .object({ low: typedNumber(20, 500), high: typedNumber(20, 500), meter: z.enum(METERS) })
  .refine(({ low, high }) => (low === null && high === null) || (high ?? 0) >= (low ?? Infinity) * 1.05, {
    message: 'Both ends of the range, the higher one at least 5 % above the lower one.',
    path: ['high'],
  });

/** Measures again within a range of tempi, with a time signature, or with the tempo that most agree on. */
export function MeasurePart({ targets, bulk, onEnd }: PartProps) {
  const { register, handleSubmit, watch, setValue, formState } = useForm({
    resolver: zodResolver(measureForm),
    defaultValues: { low: '', high: '', meter: 'any' as (typeof METERS)[number] },
    mode: 'onChange',
  });
  const { errors } = formState;
  const measure = (together: boolean) =>
    handleSubmit(({ low, high, meter }) => {
      const [beatsPerBar, beatUnit] = meter.split('/').map(Number);
      void bulk.perform(
        {
          ...{ do: 'measure', together },
          range: low !== null && high !== null ? { low, high } : null,
          meter: meter === 'any' ? null : { beatsPerBar, beatUnit },
        },
        targets,
      );
      onEnd();
    });
  return (
    <Part onSubmit={measure(false)} fault={errors.low?.message ?? errors.high?.message}>
      {(['low', 'high'] as const).map((end) => (
        <Labelled key={end} label={end === 'low' ? 'tempo range (BPM)' : 'and'}>
          <TextField
            autoFocus={end === 'low'}
            className="figures w-20"
            inputMode="decimal"
            aria-invalid={Boolean(errors[end])}
            {...register(end)}
          />
        </Labelled>
      ))}
      <Select
        label="time signature"
        place="above"
        value={watch('meter')}
        options={METERS}
        onChange={(meter) => setValue('meter', meter)}
      />
      <Button type="submit" tone="strong" disabled={Boolean(errors.low ?? errors.high)}>
        Measure again
      </Button>
      <Button
        title={`Uses the tempo that most of them agree on; for 3 to ${BULK_AT_ONCE} samples`}
        disabled={Boolean(errors.low ?? errors.high) || targets.length < 3 || targets.length > BULK_AT_ONCE}
        onClick={() => void measure(true)()}
      >
        Measure together
      </Button>
    </Part>
  );
}

const FACET_CHOICES = [...(Object.keys(FACETS) as Facet[]), 'word' as const];

/** Adds a tag, or removes it. */
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
      <Select
        label="facet"
        place="above"
        autoFocus
        value={facet}
        options={FACET_CHOICES}
        onChange={(next) => {
          setFacet(next);
          setValue(next === 'word' ? '' : FACETS[next][0]);
        }}
      />
      {facet === 'word' ? (
        <Labelled label="tag">
          <TextField
            value={value}
            maxLength={40}
            list={known}
            onChange={(event) => setValue(event.target.value)}
          />
        </Labelled>
      ) : (
        <Select label="tag" place="above" value={value} options={FACETS[facet]} onChange={setValue} />
      )}
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

const TEXTS = ['origin', 'licence', 'note'] as const;
const RATINGS = ['unchanged', '1', '2', '3', '4', '5', 'none'] as const;

/** Writes rating, origin, licence or note into all of them; what is left empty stays as it is. */
export function WritePart({ targets, bulk, onEnd }: PartProps) {
  const { register, handleSubmit, watch, setValue } = useForm({
    defaultValues: { rating: 'unchanged' as (typeof RATINGS)[number], origin: '', licence: '', note: '' },
  });
  const { rating, ...texts } = watch();
  const isEmpty = rating === 'unchanged' && TEXTS.every((name) => texts[name].trim() === '');
  return (
    <Part
      onSubmit={handleSubmit((form) => {
        const written = TEXTS.filter((name) => form[name].trim() !== '');
        const patch = {
          ...(form.rating === 'unchanged'
            ? {}
            : { rating: form.rating === 'none' ? null : Number(form.rating) }),
          ...Object.fromEntries(written.map((name) => [name, form[name].trim()])),
        };
        void bulk.perform({ do: 'write', patch }, targets);
        onEnd();
      })}
    >
      <Select
        label="rating"
        place="above"
        autoFocus
        value={rating}
        options={RATINGS}
        text={(one) => (/^\d$/.test(one) ? `${one} of 5` : one)}
        onChange={(one) => setValue('rating', one)}
      />
      {TEXTS.map((name) => (
        <Labelled key={name} label={name}>
          <TextField
            className="w-44"
            placeholder="unchanged"
            maxLength={name === 'note' ? 4000 : 300}
            {...register(name)}
          />
        </Labelled>
      ))}
      <Button type="submit" tone="strong" disabled={isEmpty}>
        Apply
      </Button>
    </Part>
  );
}
