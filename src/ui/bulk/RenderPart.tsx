'use client';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { counted } from '@/words/plural';
import type { AudioWriteFormat, Recipe } from '@/core/recipes/recipe';
import { recipeWords } from '@/core/recipes/recipeWords';
import type { SampleSummary } from '@/contract/entry';
import type { StepScreen, Target as Selected } from '@/contract/orders';
import type { MIDI_AS } from '@/contract/pack';
import { MOST_RENDERS } from '@/contract/renders';
import { recipeAtTarget, USUAL_NAME } from '@/library/recipes/aims';
import { targetName } from '@/library/packs/contents';
import { askAtTarget } from '../api/renders';
import { entryQuery } from '../api/useEntry';
import { Button } from '../kit/Button';
import { Checkbox } from '../kit/Checkbox';
import { Labelled, TextField } from '../kit/Field';
import { useAction } from '../kit/useAction';
import { awaitMade } from '../tasks/made';
import { FormatSelect, MidiSelect, RateSelect } from '../kit/WriteSelects';
import { IntoPack, packOfChoice } from '../packs/IntoPack';
import { aimOf, useTarget } from '../target/target';
import { NamesPreview } from './NamesPreview';
import { Part } from './Part';

interface Props {
  targets: readonly Selected[];
  /** One of them, whose recipe is shown. */
  sample: SampleSummary | null;
  screen: StepScreen;
  onEnd: () => void;
}

interface Settings {
  format: AudioWriteFormat;
  sampleRate: number | null;
  midiAs: (typeof MIDI_AS)[number];
  template: string;
}

const USUAL: Settings = { format: 'wav 24', sampleRate: null, midiAs: 'notes', template: USUAL_NAME };

/** Renders all selected samples at the target: each by the proposal that it is played by. */
export function RenderPart({ targets, sample, screen, onEnd }: Props) {
  const state = useTarget();
  const target = aimOf(state);
  const [writing, setWriting] = useState(USUAL);
  const [isSaved, setSaved] = useState(true);
  const [pack, setPack] = useState('none');
  const set = (patch: Partial<Settings>) => setWriting((before) => ({ ...before, ...patch }));
  const { format, sampleRate, midiAs, template } = writing;
  const at = useMemo(
    () => ({ ...aimOf(state), format, sampleRate, midiAs }),
    [state, format, sampleRate, midiAs],
  );
  const { data: entry } = useQuery({ ...entryQuery(sample?.sampleId ?? ''), enabled: sample !== null });
  const preview = previewOf(() => (entry && state.isOn ? recipeAtTarget(entry, target, writing) : null));
  const atText = targetName(target);
  const render = useAction({
    run: async () =>
      askAtTarget({
        sampleIds: targets.slice(0, MOST_RENDERS).map(({ sampleId }) => sampleId),
        ...{ target: at, screen, template, isSaved },
        packId: await packOfChoice(pack, `At ${atText}`),
      }),
    says: ({ made, stays }) => {
      const rest = stays > 0 ? `${counted(stays, 'sample is', 'samples are')} already at the target.` : '';
      return made > 0 ? rest : `Nothing to render. ${rest}`;
    },
    then: ({ taskId }) => {
      if (taskId !== null) awaitMade({ taskId, place: screen, then: null });
      if (targets.length > MOST_RENDERS)
        toast(`The first ${MOST_RENDERS} of the ${targets.length} selected; render the others afterwards.`);
      onEnd();
    },
  });
  if (!state.isOn)
    return (
      <Part onSubmit={onEnd}>
        <p className="text-small">No target is set. Set a tempo, a key or both at the top of the screen.</p>
      </Part>
    );
  return (
    <Part onSubmit={() => render.act()}>
      <p className="pb-1 text-small">
        at <b>{atText}</b>
      </p>
      <FormatSelect place="above" autoFocus value={format} onChange={(one) => set({ format: one })} />
      <RateSelect
        place="above"
        value={sampleRate}
        own="original"
        onChange={(rate) => set({ sampleRate: rate })}
      />
      <MidiSelect place="above" value={midiAs} onChange={(as) => set({ midiAs: as })} />
      <Labelled label="names">
        <TextField
          className="figures w-44"
          maxLength={200}
          value={template}
          onChange={(event) => set({ template: event.target.value })}
        />
      </Labelled>
      <Checkbox className="pb-1 text-small" label="save to Shelf" value={isSaved} onValue={setSaved} />
      <IntoPack className="max-w-36" value={pack} onChange={setPack} />
      <div className="min-w-0 flex-1 basis-64 pb-1 text-tiny leading-tight">
        {preview instanceof Error ? (
          <span className="text-one">{preview.message}</span>
        ) : (
          preview && <span className="block truncate text-ink-soft">{recipeWords(preview)}</span>
        )}
        <NamesPreview
          targets={targets}
          template={template}
          target={at}
          staying="unchanged: already at the target, or not measured"
        />
      </div>
      <Button type="submit" tone="strong" disabled={render.isBusy || preview instanceof Error}>
        Render {targets.length}
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
