'use client';
import { LONGEST_BLEND, type LanePatch } from '@/contract/blend';
import type { LaneFacts, LaneScore } from '@/library/blend/parts';
import { mod } from '@/core/math/mod';
import { beatPosition, beatTime, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { Button } from '../kit/Button';
import { NumberField } from '../kit/NumberField';
import { Segmented } from '../kit/Segmented';
import { Select } from '../kit/Select';
import { LaneSetting } from './LaneSetting';

const HELD = ['bars', 'time'] as const;

const timesText = (times: number | null) =>
  times === null ? 'until the others end' : times === 1 ? 'once' : `${times} times`;

function timesOffered(now: number | null): number[] {
  const usual = [1, 2, 3, 4, 6, 8, 12, 16, 32];
  return now === null || usual.includes(now) ? usual : [...usual, now].sort((a, b) => a - b);
}

interface Props {
  one: LaneScore;
  facts: LaneFacts | null;
  /** The grid of the blend. */
  grid: Grid;
  change: (patch: LanePatch, words: string) => void;
}

/** Where a lane stands, how often it repeats, and which bars of it are used. */
export function LanePlace({ one: { lane }, facts, grid, change }: Props) {
  const size = feltBeatsPerBar(grid.meter);
  const isByTime = lane.held === 'time';
  return (
    <>
      <LaneSetting label="Position in">
        <Segmented
          label="Position in"
          isBare
          small
          value={lane.held}
          options={HELD}
          titles={{
            bars: 'In bars: follows tempo changes',
            time: 'In seconds: keeps its time when the tempo changes',
          }}
          onChange={(held) =>
            held !== lane.held &&
            change(
              held === 'time'
                ? { held, atSeconds: beatTime(grid, lane.at) }
                : { held, at: Math.round(beatPosition(grid, lane.atSeconds) * 4) / 4 },
              `position in ${held}`,
            )
          }
        />
        <Button
          small
          pressed={lane.locked}
          title="Protects the lane from being dragged"
          onClick={() => change({ locked: !lane.locked }, lane.locked ? 'unlocked' : 'locked')}
        >
          locked
        </Button>
      </LaneSetting>
      <LaneSetting label="Start">
        {isByTime ? (
          <NumberField
            small
            className="w-13 text-right"
            label="Start (s)"
            least={-600}
            most={LONGEST_BLEND}
            value={lane.atSeconds}
            step={0.01}
            decimals={3}
            unit="s"
            onValue={(atSeconds) => change({ atSeconds }, `from ${atSeconds} s`)}
          />
        ) : (
          <>
            <NumberField
              small
              className="w-13 text-right"
              label="Start bar"
              least={-64}
              most={100_000}
              value={Math.floor(lane.at / size) + 1}
              step={1}
              decimals={0}
              unit="bar"
              onValue={(bar) => change({ at: (bar - 1) * size + mod(lane.at, size) }, `from bar ${bar}`)}
            />
            <NumberField
              small
              className="w-13 text-right"
              label="Start beat"
              least={1}
              most={size + 1}
              value={mod(lane.at, size) + 1}
              step={1}
              decimals={2}
              unit="beat"
              onValue={(beat) =>
                change({ at: Math.floor(lane.at / size) * size + beat - 1 }, `from beat ${beat}`)
              }
            />
          </>
        )}
        <NumberField
          small
          className="w-13 text-right"
          label="Offset (ms)"
          least={-2000}
          most={2000}
          value={lane.nudgeMs}
          step={1}
          decimals={1}
          unit="ms"
          onValue={(nudgeMs) => change({ nudgeMs }, `offset ${nudgeMs} ms`)}
        />
      </LaneSetting>
      <LaneSetting label="Repeats">
        <Select
          label="Repeats"
          small
          value={lane.times}
          options={[null, ...timesOffered(lane.times)]}
          text={timesText}
          onChange={(times) => change({ times }, timesText(times))}
        />
        {facts?.settled.grid && facts.settled.kind !== 'oneshot' && (
          <>
            <NumberField
              small
              className="w-13 text-right"
              label="First bar used"
              least={-64}
              most={20_000}
              value={lane.used?.from ?? 1}
              step={1}
              decimals={0}
              unit="bar"
              onValue={(from) =>
                change({ used: { from, bars: lane.used?.bars ?? 4 } }, `bars from ${from} on`)
              }
            />
            <NumberField
              small
              className="w-13 text-right"
              label="Bars used"
              least={0}
              most={4096}
              value={lane.used?.bars ?? facts.fittable.bars ?? 0}
              step={1}
              decimals={0}
              unit="bars"
              onValue={(bars) =>
                change({ used: bars < 1 ? null : { from: lane.used?.from ?? 1, bars } }, `${bars} bars of it`)
              }
            />
            {lane.used && (
              <Button small onClick={() => change({ used: null }, 'whole sample')}>
                all
              </Button>
            )}
          </>
        )}
      </LaneSetting>
    </>
  );
}
