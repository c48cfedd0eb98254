'use client';
import type { LanePatch } from '@/contract/blend';
import type { LaneScore } from '@/library/blend/parts';
import { Button } from '../kit/Button';
import { NumberField } from '../kit/NumberField';
import { semitonesText } from '../target/proposalWords';
import { LEVEL_WORDS } from './FitRow';
import { LaneSetting } from './LaneSetting';

interface Props {
  one: LaneScore;
  change: (patch: LanePatch, words: string) => void;
}

/** The pitch of a lane, and what would strain it less. */
export function LanePitch({ one: { lane, bend }, change }: Props) {
  return (
    <>
      <LaneSetting label="Pitch">
        <NumberField
          small
          className="w-13 text-right"
          label="Semitones"
          least={-24}
          most={24}
          value={Math.round(bend.semitones * 100) / 100}
          step={1}
          decimals={2}
          text={semitonesText}
          disabled={lane.isTape}
          onValue={(semitones) =>
            change({ semitones: Math.round(semitones) }, `${semitonesText(Math.round(semitones))} semitones`)
          }
        />
        <NumberField
          small
          className="w-13 text-right"
          label="Cents"
          least={-100}
          most={100}
          value={bend.cents}
          step={1}
          decimals={0}
          unit="cents"
          text={semitonesText}
          disabled={lane.isTape}
          onValue={(cents) => change({ cents }, `${semitonesText(cents)} cents`)}
        />
        {[-12, 12].map((by) => (
          <Button
            key={by}
            small
            disabled={lane.isTape || Math.abs(bend.semitones + by) > 24}
            title="An octave"
            onClick={() =>
              change(
                { semitones: Math.round(bend.semitones) + by },
                `an octave ${by > 0 ? 'higher' : 'lower'}`,
              )
            }
          >
            {semitonesText(by)}
          </Button>
        ))}
        {(lane.semitones !== null || lane.cents !== null) && (
          <Button
            small
            title="To the key"
            onClick={() => change({ semitones: null, cents: null }, 'to the key')}
          >
            to key
          </Button>
        )}
      </LaneSetting>
      {bend.cleaner && (
        <LaneSetting label="Less stretch">
          <Button
            small
            onClick={() =>
              change(
                {
                  ...(bend.cleaner!.level !== null && lane.fit.to === 'tempo'
                    ? { fit: { to: 'tempo' as const, level: bend.cleaner!.level } }
                    : {}),
                  semitones: bend.cleaner!.semitones,
                },
                'less stretch',
              )
            }
          >
            {bend.cleaner.level !== null &&
              bend.cleaner.level !== bend.level &&
              `beats ${LEVEL_WORDS[String(bend.cleaner.level)]}, `}
            {semitonesText(bend.cleaner.semitones)}, strain {bend.cleaner.strain.toFixed(2)}
          </Button>
        </LaneSetting>
      )}
    </>
  );
}
