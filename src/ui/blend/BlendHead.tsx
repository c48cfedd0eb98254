'use client';
import Link from 'next/link';
import { toast } from 'sonner';
import { TEMPO_POLICIES, type TempoPolicy } from '@/contract/blend';
import { takenFrom } from '@/library/blend/incoming';
import { Button } from '../kit/Button';
import { bpmText } from '@/words/figures';
import { KeySelect } from '../kit/KeySelect';
import { DocumentName, Steps } from '../documents/DocumentHead';
import { setTarget } from '../target/target';
import { ExportPopup } from './ExportPopup';
import { movesWords } from './blendWords';
import { TempoOfBlend } from './TempoOfBlend';
import type { BlendEditor } from './useBlend';
import type { Scored } from './useScore';
import { Select } from '../kit/Select';
import { TempoChanges } from './TempoChanges';

const TEMPO_POLICY_WORDS: Readonly<Record<TempoPolicy, string>> = {
  'the first sets it': 'first sample sets it',
  'the tempo stays': 'keep the blend’s tempo',
  'the newcomer’s is taken': 'use the added sample’s',
};

/** The name of a blend, its tempo and key, how added samples change it, and its export. */
export function BlendHead({ editor, scored }: { editor: BlendEditor; scored: Scored }) {
  const { state } = editor;
  const lead = state.lanes.find(({ laneId }) => laneId === state.lead);
  const leadFacts = lead ? scored.facts.get(lead.sampleId) : null;
  const movement = leadFacts ? takenFrom(leadFacts)?.movement : null;
  return (
    <div
      role="group"
      aria-label="Blend"
      className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule-strong bg-sheet px-4 py-1 text-small whitespace-nowrap"
    >
      <Link href="/blend" className="text-ink-soft underline-offset-2 hover:underline" title="All blends">
        Blends /
      </Link>
      <DocumentName
        kind="blend"
        className="w-44"
        name={state.name}
        onSet={(name) => editor.set({ name }, `renamed to “${name}”`)}
      />
      <TempoOfBlend
        tempoBpm={state.tempoBpm}
        moves={(bpm) => movesWords(scored.score, bpm)}
        onSet={(tempoBpm) => editor.set({ tempoBpm }, `${bpmText(tempoBpm)} BPM`)}
      />
      <KeySelect
        label="Key of the blend"
        className="w-28"
        value={state.key}
        none="no key"
        onChange={(key) => editor.set({ key }, key ? 'other key' : 'no key')}
      />
      <TempoChanges editor={editor} bars={scored.score.bars} />
      {movement && (
        <Button
          pressed={state.movement !== null}
          title={
            state.movement
              ? 'All lanes follow the lead’s tempo map. Press for one steady tempo'
              : 'One steady tempo. Press to follow the lead’s tempo map'
          }
          onClick={() =>
            editor.set(
              { movement: state.movement ? null : movement },
              state.movement ? 'steady tempo' : 'following the lead’s tempo map',
            )
          }
        >
          follow tempo map
        </Button>
      )}
      <Select
        label="Tempo when adding"
        place="beside"
        value={state.custom}
        options={TEMPO_POLICIES}
        text={TEMPO_POLICY_WORDS}
        onChange={(custom) => editor.set({ custom }, TEMPO_POLICY_WORDS[custom])}
      />
      <span className="ml-auto flex items-center gap-1">
        <Steps editor={editor} />
        <Button
          disabled={state.tempoBpm === null}
          title="Use tempo and key of this blend as the Shelf’s target"
          onClick={() => {
            setTarget({ isOn: true, tempoBpm: state.tempoBpm, key: state.key });
            toast.success('The Shelf now plays at the tempo and key of this blend.');
          }}
        >
          Use as target
        </Button>
        <ExportPopup editor={editor} scored={scored} />
      </span>
    </div>
  );
}
