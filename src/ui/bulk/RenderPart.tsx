'use client';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { AudioWriteFormat, Recipe } from '@/core/recipes/recipe';
import type { Target as Chosen } from '@/contract/orders';
import type { SampleSummary } from '@/contract/entry';
import { recipeAtTarget, USUAL_NAME, type Writing } from '@/library/recipes/aims';
import { targetName } from '@/library/packs/contents';
import { MOST_RENDERS } from '@/contract/renders';
import { recipeWords } from '@/core/recipes/recipeWords';
import { askAtTarget } from '../api/renders';
import { entryQuery } from '../api/useEntry';
import { Button } from '../pieces/Button';
import { Labelled, TextField } from '../pieces/Field';
import { IntoPack, packOfChoice, type PackChoice } from '../packs/IntoPack';
import { FormatSelect, RateSelect } from '../pieces/WriteSelects';
import { aimOf, useTarget } from '../target/target';
import { Part } from './Part';

interface Props {
  targets: readonly Chosen[];
  /** One of them, for showing what will become of it. */
  sample: SampleSummary | null;
  onEnd: () => void;
}

/** Makes all chosen samples at the target: each by the proposal that it is heard by. */
export function RenderPart({ targets, sample, onEnd }: Props) {
  const state = useTarget();
  const target = aimOf(state);
  const [format, setFormat] = useState<AudioWriteFormat>('wav 24');
  const [sampleRate, setSampleRate] = useState<number | null>(null);
  const [template, setTemplate] = useState(USUAL_NAME);
  const [isSaved, setSaved] = useState(true);
  const [pack, setPack] = useState<PackChoice>({ into: 'none' });
  const [isAsking, setAsking] = useState(false);
  const writing: Writing = { format, sampleRate, template };
  const { data: entry } = useQuery({ ...entryQuery(sample?.sampleId ?? ''), enabled: sample !== null });
  const preview = previewOf(() => (entry && state.isOn ? recipeAtTarget(entry, target, writing) : null));
  const atText = targetName(target);
  const make = async () => {
    setAsking(true);
    try {
      const { made, stays } = await askAtTarget({
        sampleIds: targets.slice(0, MOST_RENDERS).map(({ sampleId }) => sampleId),
        target: { ...target, format, sampleRate },
        ...{ template, isSaved, packId: await packOfChoice(pack, `At ${atText}`) },
      });
      const rest = stays > 0 ? ` ${stays} ${stays === 1 ? 'is' : 'are'} at the target already.` : '';
      toast(
        made > 0
          ? `${made} ${made === 1 ? 'sample is' : 'samples are'} being made.${rest}`
          : `Nothing to be made.${rest}`,
      );
      if (targets.length > MOST_RENDERS)
        toast(`The first ${MOST_RENDERS} of the ${targets.length} chosen; the others in another go.`);
      onEnd();
    } catch (error) {
      toast.error((error as Error).message);
    } finally {
      setAsking(false);
    }
  };
  if (!state.isOn)
    return (
      <Part onSubmit={onEnd}>
        <p className="text-small">
          There is no target: a tempo, a key, or both are set in the bar above the Shelf.
        </p>
      </Part>
    );
  return (
    <Part onSubmit={() => void make()}>
      <p className="pb-1 text-small">
        at <b>{atText}</b>
      </p>
      <Labelled label="format">
        <FormatSelect autoFocus value={format} onChange={setFormat} />
      </Labelled>
      <Labelled label="rate">
        <RateSelect value={sampleRate} own="as each is" onChange={setSampleRate} />
      </Labelled>
      <Labelled label="names">
        <TextField
          className="figures w-44"
          maxLength={200}
          value={template}
          onChange={(event) => setTemplate(event.target.value)}
        />
      </Labelled>
      <label className="flex items-center gap-1.5 pb-1 text-small">
        <input
          type="checkbox"
          className="accent-ink"
          checked={isSaved}
          onChange={(event) => setSaved(event.target.checked)}
        />
        onto the Shelf
      </label>
      <IntoPack className="max-w-36" value={pack} onChange={setPack} />
      <p className="min-w-0 flex-1 pb-1 text-tiny leading-tight">
        {preview instanceof Error ? (
          <span className="text-one">{preview.message}</span>
        ) : preview ? (
          <>
            <span className="block truncate text-small">{preview.name}</span>
            <span className="block truncate text-ink-soft">{recipeWords(preview)}</span>
          </>
        ) : (
          sample && <span className="text-ink-soft">“{sample.name}” is at the target already.</span>
        )}
      </p>
      <Button type="submit" tone="strong" disabled={isAsking || preview instanceof Error}>
        Make {targets.length}
      </Button>
    </Part>
  );
}

function previewOf(make: () => Recipe | null): Recipe | Error | null {
  try {
    return make();
  } catch (error) {
    return error as Error;
  }
}
