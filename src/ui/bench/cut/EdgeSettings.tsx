'use client';
import { EDGES, type Edge } from '@/core/recipes/edges';
import { timesForLength, type RenderPlan } from '@/core/recipes/renderPlan';
import { FADE_SHAPES, LONGEST_TAIL, TAILS, type Recipe } from '@/core/recipes/recipe';
import { Checkbox } from '../../kit/Checkbox';
import { Fold } from '../../kit/Group';
import { NumberField } from '../../kit/NumberField';
import { Select } from '../../kit/Select';
import { useBenchModel } from '../useBenchModel';
import { CUT_FIELDS } from './cutFields';

type Region = NonNullable<Recipe['region']>;

const EDGE_WORDS: Readonly<Record<Edge, string>> = {
  grid: 'on the grid',
  attack: 'at the attack',
  body: 'after the attack',
  'zero crossing': 'zero crossing, ± 2 ms',
  quietest: 'quietest point, ± 5 ms',
};
const TAIL_WORDS: Readonly<Record<(typeof TAILS)[number], string>> = {
  cut: 'cut off',
  'rings on': 'ring out',
  'over the beginning': 'overlap the start',
};

/** Edges in numbers. */
const NUMBERS = [
  { field: 'pickupBeats', label: 'Keep pickup', unit: 'beats', most: 64 },
  { field: 'crossfadeMs', label: 'Crossfade', unit: 'ms', most: 2000 },
  { field: 'fadeInMs', label: 'Fade in', unit: 'ms', most: 10_000 },
  { field: 'fadeOutMs', label: 'Fade out', unit: 'ms', most: 10_000 },
] as const;

/** The shortest total length, minutes: once, with its count-in and all that is kept around it. */
const shortestMinutes = ({ length, body, rate }: RenderPlan, times: number) =>
  Math.ceil((100 * (length - (times - 1) * body)) / rate / 60) / 100;

const FIELD = { place: 'column', small: true, isLive: true } as const;
const CHOICE = { place: 'column', small: true, className: 'flex-1' } as const;

/** Where a render begins and ends, and how often it repeats. */
export function EdgeSettings({ region }: { region: Region }) {
  const { cut } = useBenchModel();
  const { draft, change, renderPlan } = cut;
  const barMinutes = renderPlan?.bars ? renderPlan.length / renderPlan.rate / 60 / renderPlan.bars : null;
  const set = (patch: Partial<Region>) => change({ region: { ...region, ...patch } });
  return (
    <Fold title="Edges" open>
      <Select
        {...CHOICE}
        label="Edges"
        value={draft.edge === 'as it was' ? undefined : draft.edge}
        placeholder="as cut before"
        options={EDGES}
        text={EDGE_WORDS}
        onChange={(edge) => change({ edge })}
      />
      <Select
        {...CHOICE}
        label="Tail"
        value={region.tail}
        options={TAILS}
        text={TAIL_WORDS}
        onChange={(tail) =>
          set({
            tail,
            tailSeconds: tail === 'cut' ? 0 : region.tailSeconds || 0.5,
            ...(tail === 'cut' ? {} : { crossfadeMs: 0 }),
          })
        }
      />
      {region.tail !== 'cut' && (
        <NumberField
          {...FIELD}
          label="Tail length"
          unit="s"
          value={region.tailSeconds}
          least={0.01}
          most={LONGEST_TAIL}
          step={0.1}
          onValue={(tailSeconds) => set({ tailSeconds })}
        />
      )}
      {NUMBERS.map(({ field, label, unit, most }) => (
        <NumberField
          {...FIELD}
          key={field}
          {...{ label, unit, most }}
          value={region[field]}
          least={0}
          onValue={(value) => set({ [field]: value })}
        />
      ))}
      {region.crossfadeMs + region.fadeInMs + region.fadeOutMs > 0 && (
        <Select
          {...CHOICE}
          label="Shape"
          value={region.shape}
          options={FADE_SHAPES}
          onChange={(shape) => set({ shape })}
        />
      )}
      <Checkbox label="Pad the end with silence" value={region.pad} onValue={(pad) => set({ pad })} />
      <NumberField
        {...FIELD}
        label="Repeats"
        unit="times"
        value={draft.times}
        least={1}
        most={4096}
        whole
        onValue={(times) => change({ times })}
      />
      {renderPlan && (
        <NumberField
          {...FIELD}
          label={CUT_FIELDS.length}
          unit="min"
          value={null}
          of={renderPlan.length / renderPlan.rate / 60}
          also={barMinutes === null ? {} : { bar: barMinutes }}
          placeholder={(renderPlan.length / renderPlan.rate / 60).toFixed(2)}
          least={shortestMinutes(renderPlan, draft.times)}
          most={60}
          onValue={(minutes) => change({ times: timesForLength(renderPlan, draft.times, 60 * minutes) })}
          onEmpty={() => {}}
        />
      )}
      <Checkbox
        label="Keep intro and ending"
        value={draft.keepAround}
        onValue={(keepAround) => change({ keepAround })}
      />
    </Fold>
  );
}
