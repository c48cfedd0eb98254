'use client';
import type { LanePatch } from '@/contract/blend';
import type { LaneScore } from '@/library/blend/parts';
import { LEVELS } from '@/core/timeStretch/proposal';
import { Button } from '../kit/Button';
import { NumberField } from '../kit/NumberField';
import { Select } from '../kit/Select';
import { LaneSetting } from './LaneSetting';

/** Beats of the blend to beats of the lane's own, as it is written. */
export const LEVEL_WORDS: Readonly<Record<string, string>> = {
  '1': '1 : 1',
  '2': '2 : 1',
  '0.5': '1 : 2',
  '1.5': '3 : 2',
  [String(2 / 3)]: '2 : 3',
};

const FITS = ['tempo', 'bars', 'nothing'] as const;
const FIT_WORDS = { tempo: 'tempo', bars: 'number of bars', nothing: 'nothing (original speed)' };

interface Props {
  one: LaneScore;
  /** Felt beats in a bar of the blend. */
  size: number;
  change: (patch: LanePatch, words: string) => void;
}

/** What a lane is matched to: the tempo, a number of bars, or nothing. */
export function FitRow({ one, size, change }: Props) {
  const { lane, bend } = one;
  const isByTime = lane.held === 'time';
  return (
    <LaneSetting label="Match">
      <Select
        label="What the lane is matched to"
        small
        disabled={isByTime}
        value={lane.fit.to}
        options={FITS}
        text={FIT_WORDS}
        onChange={(to) =>
          change(
            {
              fit:
                to === 'bars'
                  ? { to, bars: Math.max(1, Math.round((one.every ?? size) / size)) }
                  : to === 'tempo'
                    ? { to, level: null }
                    : { to },
            },
            to === 'nothing' ? 'original speed' : `match ${FIT_WORDS[to]}`,
          )
        }
      />
      {lane.fit.to === 'tempo' && (
        <Select
          label="Beats of the blend per beat of the sample"
          small
          disabled={isByTime}
          value={lane.fit.level}
          options={[null, ...LEVELS]}
          text={(level) =>
            level !== null
              ? LEVEL_WORDS[String(level)]
              : `least strain${bend.level !== null && bend.level !== 1 ? ` (${LEVEL_WORDS[String(bend.level)] ?? ''})` : ''}`
          }
          onChange={(level) =>
            change(
              { fit: { to: 'tempo', level } },
              level === null ? 'least strain' : `beats ${LEVEL_WORDS[String(level)]}`,
            )
          }
        />
      )}
      {lane.fit.to === 'bars' && (
        <NumberField
          small
          className="w-13 text-right"
          label="Bars it is stretched to"
          least={0.25}
          most={512}
          value={lane.fit.bars}
          step={1}
          decimals={2}
          unit="bars"
          onValue={(bars) => change({ fit: { to: 'bars', bars } }, `${bars} bars`)}
        />
      )}
      <Button
        small
        pressed={lane.isTape}
        title="Pitch follows speed"
        onClick={() => change({ isTape: !lane.isTape }, lane.isTape ? 'pitch: keep' : 'pitch: follow speed')}
      >
        pitch follows speed
      </Button>
    </LaneSetting>
  );
}
