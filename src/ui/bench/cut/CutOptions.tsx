'use client';
import { FORMATS, type Recipe } from '@/core/recipes/recipe';
import { TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { formatText } from '@/words/figures';
import { Button } from '../../kit/Button';
import { Labelled, TextField } from '../../kit/Field';
import { Fold } from '../../kit/Group';
import { NumberField } from '../../kit/NumberField';
import { Select } from '../../kit/Select';
import { RateSelect } from '../../kit/WriteSelects';
import { useBenchModel } from '../useBenchModel';
import { CUT_SETTINGS } from './cutFields';
import { EdgeSettings } from './EdgeSettings';
import { HitSettings } from './HitSettings';
import { PitchSettings } from './PitchSettings';
import { SliceSettings } from './SliceSettings';
import { TempoSettings } from './TempoSettings';

/** The settings of a render besides its bars: edges, tempo, pitch, hits, file. */
export function CutOptions({ onRender }: { onRender: (recipes: readonly Recipe[]) => void }) {
  const { bench, cut } = useBenchModel();
  const { draft } = cut;
  return (
    <div
      className="w-60 shrink-0 overflow-y-auto border-l border-rule-strong p-2 text-small"
      id={CUT_SETTINGS}
      aria-label="Render settings"
      role="group"
    >
      {draft.region && <EdgeSettings region={draft.region} />}
      {bench.grid && <TempoSettings grid={bench.grid} />}
      <PitchSettings />
      {bench.grid && <HitSettings />}
      <FileSettings />
      {bench.grid && (
        <Fold title="Slice">
          <SliceSettings onRender={onRender} />
        </Fold>
      )}
      <Button className="mt-2 w-full" onClick={cut.reset}>
        Reset
      </Button>
    </div>
  );
}

const TOO_LOUD = ['quieter', 'refuse'] as const;
const TOO_LOUD_WORDS = { quieter: 'lower the level', refuse: 'do not render' };

function FileSettings() {
  const { bench, cut } = useBenchModel();
  const { draft, change } = cut;
  const { write } = draft;
  const isPlayed = bench.entry.summary.format === 'midi';
  const set = (patch: Partial<typeof write>) => change({ write: { ...write, ...patch } });
  return (
    <Fold title="File" open>
      <Select
        label="Format"
        place="column"
        small
        className="flex-1"
        value={write.format}
        options={FORMATS.filter((format) => format !== 'midi' || isPlayed)}
        text={formatText}
        onChange={(format) => set({ format })}
      />
      <RateSelect
        place="column"
        className="h-6! flex-1 px-1!"
        value={write.sampleRate}
        own="original"
        onChange={(sampleRate) => set({ sampleRate })}
      />
      <NumberField
        label="Gain"
        unit="dB"
        place="column"
        small
        isLive
        value={write.gainDb}
        least={-60}
        most={24}
        onValue={(gainDb) => set({ gainDb })}
      />
      <Select
        label="If it clips"
        place="column"
        small
        className="flex-1"
        value={write.tooLoud}
        options={TOO_LOUD}
        text={TOO_LOUD_WORDS}
        onChange={(tooLoud) => set({ tooLoud })}
      />
      <Labelled label="Name">
        <TextField
          className="figures w-full"
          value={draft.template}
          maxLength={200}
          title={Object.entries(TEMPLATE_FIELDS)
            .map(([field, words]) => `{${field}}: ${words}`)
            .join('\n')}
          onChange={(event) => change({ template: event.target.value })}
        />
      </Labelled>
    </Fold>
  );
}
