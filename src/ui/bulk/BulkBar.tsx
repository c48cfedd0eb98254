'use client';
import { Download, X } from 'lucide-react';
import type { ComponentType } from 'react';
import { KIND_TEXT } from '@/words/figures';
import type { SampleSummary } from '@/contract/entry';
import type { BulkAction, Target } from '@/contract/orders';
import { takeAway } from '../api/archives';
import { Button } from '../kit/Button';
import { IconButton } from '../kit/IconButton';
import { Progress } from '../kit/Progress';
import { Select } from '../kit/Select';
import { useHint } from '../kit/shortcuts';
import { tell } from '../kit/useAction';
import { useHearTogether, usePutIntoBlend } from '../blend/putIntoBlend';
import { usePutIntoPack } from '../packs/putIntoPack';
import { SHELF } from '../shortcuts/shortcutTables';
import { LastSteps } from './LastSteps';
import { JoinPart, RenamePart } from './nameParts';
import { AcceptPart, MeasurePart, TagsPart, WritePart, type PartProps } from './parts';
import { RenderPart } from './RenderPart';
import type { useBulk } from './useBulk';

/** Actions that have settings. */
export type BulkPart = 'accept' | 'measure' | 'tags' | 'rename' | 'write' | 'render' | 'join';
type Where = 'intake' | 'bin' | 'shelf';

const PARTS: Readonly<Record<BulkPart, { label: string; Form: ComponentType<PartProps> }>> = {
  accept: { label: 'Accept…', Form: AcceptPart },
  measure: { label: 'Measure again…', Form: MeasurePart },
  tags: { label: 'Tags…', Form: TagsPart },
  rename: { label: 'Rename…', Form: RenamePart },
  write: { label: 'Rating, origin…', Form: WritePart },
  render: {
    label: 'Render at target…',
    Form: ({ bulk, ...rest }) => <RenderPart screen={bulk.screen} {...rest} />,
  },
  join: { label: 'Join as stems…', Form: JoinPart },
};

/** What is offered where: a saved sample is neither accepted nor measured again. */
const OFFERED: Readonly<Record<Where, readonly BulkPart[]>> = {
  intake: ['measure', 'tags', 'rename', 'write', 'render', 'join'],
  shelf: ['tags', 'rename', 'write', 'render', 'join'],
  bin: [],
};

const SOURCES = ['file name', 'embedded tag', 'stem set', 'newer measurement', 'detector'] as const;
const KINDS = [...Object.keys(KIND_TEXT), 'as measured'];

interface Props {
  bulk: ReturnType<typeof useBulk>;
  targets: readonly Target[];
  /** One of them, for showing what will become of it. */
  sample: SampleSummary | null;
  where: Where;
  part: BulkPart | null;
  onPart: (part: BulkPart | null) => void;
  onClear: () => void;
}

/** What can be done to all selected samples at once. */
export function BulkBar({ bulk, targets, sample, where, part, onPart, onClear }: Props) {
  const { run } = bulk;
  const intoPack = usePutIntoPack();
  const intoBlend = usePutIntoBlend();
  const hearTogether = useHearTogether();
  const hint = useHint();
  const ids = targets.map(({ sampleId }) => sampleId);
  const perform = (order: BulkAction) => void bulk.perform(order, targets);
  const performAndClear = (order: BulkAction) => {
    perform(order);
    onClear();
  };
  const end = () => onPart(null);
  const opener = (name: BulkPart, tone?: 'strong') => (
    <Button
      key={name}
      tone={tone}
      pressed={part === name}
      disabled={name === 'join' && ids.length < 2}
      onClick={() => onPart(part === name ? null : name)}
    >
      {PARTS[name].label}
    </Button>
  );
  const Form = part && PARTS[part].Form;
  return (
    <section
      aria-label="Selected samples"
      className="shrink-0 border-t border-rule-strong bg-sheet px-4 py-2"
    >
      <div className="flex flex-wrap items-center gap-1.5">
        <span role="status" className="mr-2 text-small">
          <b className="figures">{ids.length}</b> selected
        </span>
        {where === 'bin' && (
          <Button tone="strong" onClick={() => performAndClear({ do: 'restore' })}>
            Restore
          </Button>
        )}
        {where === 'intake' && (
          <>
            {opener('accept', 'strong')}
            <Button onClick={() => perform({ do: 'scale', ratio: 0.5 })}>Half</Button>
            <Button onClick={() => perform({ do: 'scale', ratio: 2 })}>Double</Button>
            <Select
              label="Use the readings of a source"
              placeholder="Use readings of…"
              value={undefined}
              options={SOURCES}
              onChange={(source) => perform({ do: 'choose', source })}
            />
          </>
        )}
        {where !== 'bin' && (
          <Select
            label="Kind of the selected samples"
            placeholder="Kind…"
            value={undefined}
            options={KINDS}
            text={(kind) => KIND_TEXT[kind] ?? kind}
            onChange={(kind) =>
              perform({ do: 'kind', kind: kind === 'as measured' ? null : (kind as 'loop') })
            }
          />
        )}
        {OFFERED[where].map((name) => opener(name))}
        {where !== 'bin' && (
          <>
            <Button title={hint(SHELF.blend)} onClick={() => intoBlend(ids)}>
              Add to blend
            </Button>
            <Button title={hint(SHELF.together)} disabled={ids.length < 2} onClick={() => hearTogether(ids)}>
              Play together
            </Button>
          </>
        )}
        {where === 'shelf' && (
          <>
            <Button title={hint(SHELF.pack)} onClick={() => intoPack(ids)}>
              Add to pack
            </Button>
            {(['tagged', 'original'] as const).map((as) => (
              <Button key={as} onClick={() => void takeAway(ids, as).catch(tell)}>
                <Download className="size-3.5" aria-hidden />
                {as === 'tagged' ? 'Tagged copies' : 'Originals'}
              </Button>
            ))}
          </>
        )}
        {where !== 'bin' && <Button onClick={() => performAndClear({ do: 'bin' })}>Move to bin</Button>}
        <span className="ml-auto" />
        <LastSteps bulk={bulk} />
        <IconButton
          label="Clear selection"
          onClick={() => {
            end();
            onClear();
          }}
        >
          <X />
        </IconButton>
      </div>
      {run && (
        <div className="mt-2 flex items-center gap-3 text-small">
          <Progress className="h-1.5 flex-1" label="Done" max={run.of} value={run.done} />
          <span role="status" className="figures">
            {run.done} of {run.of}
          </span>
          <Button onClick={bulk.stop}>Stop</Button>
        </div>
      )}
      {Form && <Form {...{ targets, bulk, sample }} onEnd={end} />}
    </section>
  );
}
