'use client';
import { COUNTED_WITH, EVENINGS } from '@/core/recipes/recipe';
import { feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { barsText, bpmText } from '@/words/figures';
import { Button } from '../../kit/Button';
import { Checkbox } from '../../kit/Checkbox';
import { Fold } from '../../kit/Group';
import { NumberField } from '../../kit/NumberField';
import { Select } from '../../kit/Select';
import { aimOf, useTarget } from '../../target/target';
import { useBenchModel } from '../useBenchModel';
import { CUT_FIELDS } from './cutFields';
import { tapePitch } from './tapePitch';

const FIELD = { place: 'column', small: true, isLive: true } as const;
const CHOICE = { place: 'column', small: true, className: 'flex-1' } as const;

/** The tempo of a render, its length in bars, and its count-in. */
export function TempoSettings({ grid }: { grid: Grid }) {
  const { cut } = useBenchModel();
  const { draft, change } = cut;
  const { region, time } = draft;
  const target = aimOf(useTarget());
  const set = (patch: Partial<typeof time>) => {
    const next = { ...time, ...patch };
    change({
      time: next,
      ...(draft.pitch.tape && { pitch: { ...draft.pitch, ...tapePitch(grid, next) } }),
    });
  };
  const size = feltBeatsPerBar(grid.meter);
  const beats = region && (region.to - region.from) * time.level;
  const near = beats && Math.max(1, Math.round(beats / size)) * size;
  const whole = Math.round(grid.tempoBpm);
  return (
    <Fold title="Tempo" open>
      <NumberField
        {...FIELD}
        label={CUT_FIELDS.tempo}
        unit="BPM"
        of={grid.tempoBpm}
        value={time.tempoBpm}
        least={10}
        most={1000}
        placeholder={bpmText(grid.tempoBpm)}
        onValue={(tempoBpm) => set({ tempoBpm })}
        onEmpty={() => set({ tempoBpm: null })}
      />
      <div className="flex flex-wrap gap-1">
        <Button small onClick={() => set({ tempoBpm: whole })}>
          round to {whole}
        </Button>
        {target.tempoBpm !== null && (
          <Button small onClick={() => set({ tempoBpm: target.tempoBpm })}>
            target’s {bpmText(target.tempoBpm)}
          </Button>
        )}
      </div>
      {grid.movingBeats && (
        <Select
          {...CHOICE}
          label="Tempo changes"
          value={time.even}
          options={EVENINGS}
          text={(even) => (even === 'no' ? 'keep' : `${even} by ${even}`)}
          onChange={(even) => set({ even })}
        />
      )}
      {near !== null && (
        <Checkbox
          label={`exactly ${barsText(near / size)}, to the frame`}
          value={time.exactBeats === near}
          onValue={(isOn) => set({ exactBeats: isOn ? near : null })}
        />
      )}
      <NumberField
        {...FIELD}
        label="Count-in"
        unit="bars"
        value={draft.countInBars}
        least={0}
        most={8}
        whole
        onValue={(countInBars) => change({ countInBars })}
      />
      {draft.countInBars > 0 && (
        <Select
          {...CHOICE}
          label="with"
          value={draft.countInWith}
          options={COUNTED_WITH}
          onChange={(countInWith) => change({ countInWith })}
        />
      )}
      <Checkbox
        label="Click only, same length"
        value={draft.clickOnly}
        onValue={(clickOnly) => change({ clickOnly })}
      />
    </Fold>
  );
}
