'use client';
import type { LanePatch } from '@/contract/blend';
import type { LaneScore } from '@/library/blend/parts';
import { LEVELS } from '@/core/fit/proposal';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { Figure, Row } from './LaneFields';

/** Beats of the blend to beats of the lane's own, as it is written. */
export const LEVEL_WORDS: Readonly<Record<string, string>> = {
  '1': '1 : 1',
  '2': '2 : 1',
  '0.5': '1 : 2',
  '1.5': '3 : 2',
  [String(2 / 3)]: '2 : 3',
};

interface Props {
  one: LaneScore;
  /** Felt beats in a bar of the blend. */
  size: number;
  change: (patch: LanePatch, words: string) => void;
}

/** What a lane is fitted to: the tempo, so many bars, or nothing. */
export function FitRow({ one, size, change }: Props) {
  const { lane, bend } = one;
  const isByTime = lane.held === 'time';
  return (
    <Row label="fitted to">
      <select
        aria-label="Fitted to"
        className={`${fieldClass} h-6! px-1!`}
        disabled={isByTime}
        value={lane.fit.to}
        onChange={({ target: { value } }) =>
          change(
            {
              fit:
                value === 'bars'
                  ? { to: 'bars', bars: Math.max(1, Math.round((one.every ?? size) / size)) }
                  : value === 'tempo'
                    ? { to: 'tempo', level: null }
                    : { to: 'nothing' },
            },
            value === 'nothing' ? 'not fitted' : `fitted to ${value === 'bars' ? 'bars' : 'the tempo'}`,
          )
        }
      >
        <option value="tempo">the tempo</option>
        <option value="bars">so many bars</option>
        <option value="nothing">nothing</option>
      </select>
      {lane.fit.to === 'tempo' && (
        <select
          aria-label="Beats of the blend to beats of its own"
          className={`${fieldClass} h-6! px-1!`}
          disabled={isByTime}
          value={lane.fit.level ?? ''}
          onChange={({ target: { value } }) =>
            change(
              { fit: { to: 'tempo', level: value === '' ? null : Number(value) } },
              value === '' ? 'as strains least' : `beats ${LEVEL_WORDS[value]}`,
            )
          }
        >
          <option value="">
            as strains least
            {bend.level !== null && bend.level !== 1 ? ` (${LEVEL_WORDS[String(bend.level)] ?? ''})` : ''}
          </option>
          {LEVELS.map((level) => (
            <option key={level} value={level}>
              {LEVEL_WORDS[String(level)]}
            </option>
          ))}
        </select>
      )}
      {lane.fit.to === 'bars' && (
        <Figure
          label="Bars it is fitted to"
          value={lane.fit.bars}
          step={1}
          decimals={2}
          unit="bars"
          onSet={(bars) => change({ fit: { to: 'bars', bars } }, `${bars} bars`)}
        />
      )}
      <Button
        className="h-6 px-1.5!"
        pressed={lane.isTape}
        title="Pitch follows speed, as a tape’s does"
        onClick={() => change({ isTape: !lane.isTape }, lane.isTape ? 'pitch held' : 'as a tape')}
      >
        tape
      </Button>
    </Row>
  );
}
