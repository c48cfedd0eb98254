'use client';
import { keyWays } from '@/core/timeStretch/proposal';
import { Checkbox } from '../../kit/Checkbox';
import { Fold } from '../../kit/Group';
import { KeySelect } from '../../kit/KeySelect';
import { NumberField } from '../../kit/NumberField';
import { useBenchModel } from '../useBenchModel';
import { CUT_FIELDS } from './cutFields';
import { tapePitch } from './tapePitch';

const FIELD = { place: 'column', small: true, isLive: true } as const;

/** The pitch of a render. */
export function PitchSettings() {
  const { bench, cut } = useBenchModel();
  const { draft, change } = cut;
  const { pitch, time } = draft;
  const { grid, entry } = bench;
  const { key } = entry.settled;
  const own = key && 'tonic' in key ? key : null;
  const set = (patch: Partial<typeof pitch>) => change({ pitch: { ...pitch, ...patch } });
  const followSpeed = (tape: boolean) =>
    set({ tape, ...(tape ? tapePitch(grid, time) : { semitones: 0, cents: 0 }) });
  return (
    <Fold title="Pitch" open>
      <NumberField
        {...FIELD}
        label={CUT_FIELDS.transpose}
        unit="st"
        value={pitch.semitones}
        least={-24}
        most={24}
        onValue={(semitones) => set({ semitones })}
      />
      <NumberField
        {...FIELD}
        label="Cents"
        unit="cents"
        value={pitch.cents}
        least={-100}
        most={100}
        onValue={(cents) => set({ cents })}
      />
      {own && (
        <KeySelect
          label="To key"
          place="column"
          small
          className="flex-1"
          value={null}
          none={null}
          placeholder="…"
          onChange={(to) => to && set({ semitones: keyWays(own, to)[0].semitones })}
        />
      )}
      <Checkbox
        label="Keep formants (voices)"
        value={pitch.holdFormants}
        onValue={(holdFormants) => set({ holdFormants })}
      />
      <Checkbox label="Pitch follows speed" value={pitch.tape} onValue={followSpeed} />
    </Fold>
  );
}
