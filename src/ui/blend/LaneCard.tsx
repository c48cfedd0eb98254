'use client';
import type { LanePatch } from '@/contract/blend';
import { Trash2 } from 'lucide-react';
import Link from 'next/link';
import type { LaneScore } from '@/library/blend/parts';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../kit/Button';
import { Select } from '../kit/Select';
import { useHint } from '../kit/shortcuts';
import { Slider } from '../kit/Slider';
import { LANES } from '../shortcuts/shortcutTables';
import { penStyle } from './pens';
import { laneSentence } from './blendWords';
import { FitRow } from './FitRow';
import { LanePitch } from './LanePitch';
import { LanePlace } from './LanePlace';
import { LaneSetting } from './LaneSetting';
import type { BlendEditor } from './useBlend';
import type { Scored } from './useScore';

interface Props {
  editor: BlendEditor;
  scored: Scored;
  one: LaneScore;
  onLead: (laneId: string) => void;
  onTake: (laneId: string) => void;
}

/** The settings of one lane. */
export function LaneCard({ editor, scored, one, onLead, onTake }: Props) {
  const { lane } = one;
  const hint = useHint();
  const { state } = editor;
  const { grid } = scored.score;
  const facts = scored.facts.get(lane.sampleId) ?? null;
  const size = feltBeatsPerBar(grid.meter);
  const change = (patch: LanePatch, words: string) =>
    editor.lane(lane.laneId, patch, `“${lane.name}”: ${words}`);
  const leads = state.lead === lane.laneId;
  const others = state.lanes.filter(({ laneId }) => laneId !== lane.laneId);
  const nameOf = (laneId: string) => others.find((other) => other.laneId === laneId)?.name ?? '';
  return (
    <section
      aria-label="Selected lane"
      className="flex min-h-0 min-w-0 flex-col border-l border-rule-strong text-small"
    >
      <h2 className="flex items-center gap-1.5 px-3 py-1 font-semibold">
        <span
          className="min-w-0 flex-1 truncate"
          style={penStyle(lane)}
          title={laneSentence(one, facts, state)}
        >
          {lane.name}
        </span>
        {leads ? (
          <span className="text-tiny text-one">lead</span>
        ) : (
          <Button
            small
            title={hint(LANES.lead, 'Gives tempo and key')}
            disabled={!facts?.settled.grid}
            onClick={() => onLead(lane.laneId)}
          >
            Set as lead
          </Button>
        )}
        <Link href={`/bench/${lane.sampleId}`} className="text-tiny font-normal text-ink-soft underline">
          Bench
        </Link>
        <Button
          small
          tone="quiet"
          aria-label={`Remove ${lane.name}`}
          title={hint(LANES.remove)}
          onClick={() => onTake(lane.laneId)}
        >
          <Trash2 className="size-3.5" aria-hidden />
        </Button>
      </h2>
      <div className="grid min-h-0 flex-1 auto-rows-min grid-cols-[4.2rem_1fr] items-center gap-x-2 gap-y-1 overflow-y-auto px-3 pb-2 text-tiny">
        <LaneSetting label="Level, pan">
          <Slider
            place="beside"
            className="w-16"
            label="Level, dB"
            min={-36}
            max={12}
            step={0.5}
            value={lane.levelDb}
            text={(db) => `${db} dB`}
            onTry={(levelDb) => editor.tryOut(patchOf(lane.laneId, { levelDb }))}
            onValue={(levelDb) => change({ levelDb }, `${levelDb} dB`)}
          />
          <Slider
            place="beside"
            className="w-16"
            label="Pan"
            min={-1}
            max={1}
            step={0.05}
            value={lane.pan}
            text={panText}
            onTry={(pan) => editor.tryOut(patchOf(lane.laneId, { pan }))}
            onValue={(pan) => change({ pan }, panText(pan))}
          />
        </LaneSetting>
        <LanePlace one={one} facts={facts} grid={grid} change={change} />
        <FitRow one={one} size={size} change={change} />
        <LanePitch one={one} change={change} />
        <LaneSetting label="Groove">
          <Select
            label="Groove from"
            small
            className="max-w-36"
            value={lane.feel?.of ?? null}
            options={[null, ...others.map(({ laneId }) => laneId)]}
            text={(laneId) => (laneId === null ? 'own' : nameOf(laneId))}
            onChange={(of) =>
              change(
                { feel: of === null ? null : { of, share: lane.feel?.share ?? 1 } },
                of === null ? 'own groove' : `groove of “${nameOf(of)}”`,
              )
            }
          />
          {lane.feel && (
            <Slider
              place="beside"
              className="w-16"
              label="Groove amount"
              min={0}
              max={1}
              step={0.05}
              value={lane.feel.share}
              text={(share) => `${Math.round(100 * share)} %`}
              onTry={(share) => editor.tryOut(patchOf(lane.laneId, { feel: { of: lane.feel!.of, share } }))}
              onValue={(share) =>
                change({ feel: { of: lane.feel!.of, share } }, `${Math.round(100 * share)} % groove`)
              }
            />
          )}
        </LaneSetting>
        {one.remarks.length > 0 && <p className="col-span-2 text-ink-soft">{one.remarks.join('; ')}</p>}
      </div>
    </section>
  );
}

const patchOf = (laneId: string, patch: LanePatch) => ({
  do: 'lanes' as const,
  patches: [{ laneId, patch }],
});
const panText = (pan: number) =>
  pan === 0 ? 'center' : `${Math.round(100 * Math.abs(pan))} % ${pan < 0 ? 'left' : 'right'}`;
