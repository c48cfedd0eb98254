'use client';
import type { LanePatch } from '@/contract/blend';
import { Trash2 } from 'lucide-react';
import Link from 'next/link';
import type { LaneScore } from '@/library/blend/parts';
import { mod } from '@/core/math/mod';
import { beatPosition, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../pieces/Button';
import { fieldClass } from '../pieces/Field';
import { semitonesText } from '../target/proposalWords';
import { penStyle } from './pens';
import { laneSentence } from './blendWords';
import { FitRow, LEVEL_WORDS } from './FitRow';
import { Figure, Row, Slide } from './LaneFields';
import type { BlendHand } from './useBlend';
import type { Scored } from './useScore';

interface Props {
  hand: BlendHand;
  scored: Scored;
  one: LaneScore;
  onLead: (laneId: string) => void;
  onTake: (laneId: string) => void;
}

/** Everything that can be said of one lane. */
export function LaneCard({ hand, scored, one, onLead, onTake }: Props) {
  const { lane, bend } = one;
  const { state } = hand;
  const { grid } = scored.score;
  const facts = scored.facts.get(lane.sampleId) ?? null;
  const size = feltBeatsPerBar(grid.meter);
  const change = (patch: LanePatch, words: string) =>
    hand.lane(lane.laneId, patch, `“${lane.name}”: ${words}`);
  const leads = state.lead === lane.laneId;
  const others = state.lanes.filter(({ laneId }) => laneId !== lane.laneId);
  const isByTime = lane.held === 'time';
  return (
    <section
      aria-label="Lane in hand"
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
          <span className="text-tiny text-one">leads</span>
        ) : (
          <Button
            className="h-6 px-1.5!"
            title="It gives tempo and key (L)"
            disabled={!facts?.settled.grid}
            onClick={() => onLead(lane.laneId)}
          >
            let it lead
          </Button>
        )}
        <Link href={`/bench/${lane.sampleId}`} className="text-tiny font-normal text-ink-soft underline">
          Bench
        </Link>
        <Button
          className="h-6 px-1.5!"
          tone="quiet"
          aria-label={`Take ${lane.name} out`}
          title="Take it out (Del)"
          onClick={() => onTake(lane.laneId)}
        >
          <Trash2 className="size-3.5" aria-hidden />
        </Button>
      </h2>
      <div className="grid min-h-0 flex-1 auto-rows-min grid-cols-[4.2rem_1fr] items-center gap-x-2 gap-y-1 overflow-y-auto px-3 pb-2 text-tiny">
        <Row label="level, side">
          <Slide
            label="Level, dB"
            min={-36}
            max={12}
            step={0.5}
            value={lane.levelDb}
            format={(db) => `${db} dB`}
            onTry={(levelDb) => hand.tryOut(patchOf(lane.laneId, { levelDb }))}
            onSet={(levelDb) => change({ levelDb }, `${levelDb} dB`)}
          />
          <Slide
            label="Side"
            min={-1}
            max={1}
            step={0.05}
            value={lane.pan}
            format={panText}
            onTry={(pan) => hand.tryOut(patchOf(lane.laneId, { pan }))}
            onSet={(pan) => change({ pan }, panText(pan))}
          />
        </Row>
        <Row label="held in">
          {(['bars', 'time'] as const).map((held) => (
            <Button
              key={held}
              className="h-6 px-2!"
              pressed={lane.held === held}
              title={
                held === 'bars'
                  ? 'It follows the bars when the tempo changes'
                  : 'It keeps its seconds when the tempo changes'
              }
              onClick={() =>
                held !== lane.held &&
                change(
                  held === 'time'
                    ? { held, atSeconds: beatTime(grid, lane.at) }
                    : { held, at: Math.round(beatPosition(grid, lane.atSeconds) * 4) / 4 },
                  `held in ${held}`,
                )
              }
            >
              {held}
            </Button>
          ))}
          <Button
            className="h-6 px-2!"
            pressed={lane.locked}
            title="It is not moved by pulling"
            onClick={() => change({ locked: !lane.locked }, lane.locked ? 'loose' : 'locked in place')}
          >
            locked
          </Button>
        </Row>
        <Row label="begins">
          {isByTime ? (
            <Figure
              label="Begins at second"
              value={lane.atSeconds}
              step={0.01}
              decimals={3}
              unit="s"
              onSet={(atSeconds) => change({ atSeconds }, `from ${atSeconds} s`)}
            />
          ) : (
            <>
              <Figure
                label="Begins at bar"
                value={Math.floor(lane.at / size) + 1}
                step={1}
                decimals={0}
                unit="bar"
                onSet={(bar) => change({ at: (bar - 1) * size + mod(lane.at, size) }, `from bar ${bar}`)}
              />
              <Figure
                label="Begins at beat"
                value={mod(lane.at, size) + 1}
                step={1}
                decimals={2}
                unit="beat"
                onSet={(beat) =>
                  change({ at: Math.floor(lane.at / size) * size + beat - 1 }, `from beat ${beat}`)
                }
              />
            </>
          )}
          <Figure
            label="Nudged by ms"
            value={lane.nudgeMs}
            step={1}
            decimals={1}
            unit="ms"
            onSet={(nudgeMs) => change({ nudgeMs }, `nudged by ${nudgeMs} ms`)}
          />
        </Row>
        <Row label="heard">
          <select
            aria-label="How often it is heard"
            className={`${fieldClass} h-6! px-1!`}
            value={lane.times ?? 'all'}
            onChange={({ target: { value } }) =>
              change(
                { times: value === 'all' ? null : Number(value) },
                value === 'all' ? 'until the others end' : `${value} times`,
              )
            }
          >
            <option value="all">until the others end</option>
            {timesOffered(lane.times).map((times) => (
              <option key={times} value={times}>
                {times === 1 ? 'once' : `${times} times`}
              </option>
            ))}
          </select>
          {facts?.settled.grid && facts.settled.kind !== 'oneshot' && (
            <>
              <Figure
                label="First bar used"
                value={lane.used?.from ?? 1}
                step={1}
                decimals={0}
                unit="bar"
                onSet={(from) =>
                  change({ used: { from, bars: lane.used?.bars ?? 4 } }, `bars from ${from} on`)
                }
              />
              <Figure
                label="Bars used"
                value={lane.used?.bars ?? facts.fittable.bars ?? 0}
                step={1}
                decimals={0}
                unit="bars"
                onSet={(bars) =>
                  change(
                    { used: bars < 1 ? null : { from: lane.used?.from ?? 1, bars } },
                    `${bars} bars of it`,
                  )
                }
              />
              {lane.used && (
                <Button className="h-6 px-1.5!" onClick={() => change({ used: null }, 'all of it')}>
                  all
                </Button>
              )}
            </>
          )}
        </Row>
        <FitRow one={one} size={size} change={change} />
        <Row label="pitch">
          <Figure
            label="Semitones"
            value={Math.round(bend.semitones * 100) / 100}
            step={1}
            decimals={2}
            unit=""
            isSigned
            disabled={lane.isTape}
            onSet={(semitones) =>
              change(
                { semitones: Math.round(semitones) },
                `${semitonesText(Math.round(semitones))} semitones`,
              )
            }
          />
          <Figure
            label="Cents"
            value={bend.cents}
            step={1}
            decimals={0}
            unit="cents"
            isSigned
            disabled={lane.isTape}
            onSet={(cents) => change({ cents }, `${semitonesText(cents)} cents`)}
          />
          {[-12, 12].map((by) => (
            <Button
              key={by}
              className="h-6 px-1.5!"
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
              className="h-6 px-1.5!"
              title="As the key asks"
              onClick={() => change({ semitones: null, cents: null }, 'as the key asks')}
            >
              by key
            </Button>
          )}
        </Row>
        <Row label="feel">
          <select
            aria-label="Takes the feel of"
            className={`${fieldClass} h-6! max-w-36 px-1!`}
            value={lane.feel?.of ?? ''}
            onChange={({ target: { value } }) =>
              change(
                { feel: value === '' ? null : { of: value, share: lane.feel?.share ?? 1 } },
                value === ''
                  ? 'its own feel'
                  : `feel of “${others.find(({ laneId }) => laneId === value)?.name}”`,
              )
            }
          >
            <option value="">its own</option>
            {others.map(({ laneId, name }) => (
              <option key={laneId} value={laneId}>
                {name}
              </option>
            ))}
          </select>
          {lane.feel && (
            <Slide
              label="Share of the feel"
              min={0}
              max={1}
              step={0.05}
              value={lane.feel.share}
              format={(share) => `${Math.round(100 * share)} %`}
              onTry={(share) => hand.tryOut(patchOf(lane.laneId, { feel: { of: lane.feel!.of, share } }))}
              onSet={(share) =>
                change({ feel: { of: lane.feel!.of, share } }, `${Math.round(100 * share)} % of the feel`)
              }
            />
          )}
        </Row>
        {bend.cleaner && (
          <Row label="cleaner">
            <Button
              className="h-6 px-1.5!"
              onClick={() =>
                change(
                  {
                    ...(bend.cleaner!.level !== null && lane.fit.to === 'tempo'
                      ? { fit: { to: 'tempo' as const, level: bend.cleaner!.level } }
                      : {}),
                    semitones: bend.cleaner!.semitones,
                  },
                  'bent less',
                )
              }
            >
              {bend.cleaner.level !== null &&
                bend.cleaner.level !== bend.level &&
                `beats ${LEVEL_WORDS[String(bend.cleaner.level)]}, `}
              {semitonesText(bend.cleaner.semitones)}, strain {bend.cleaner.strain.toFixed(2)}
            </Button>
          </Row>
        )}
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
  pan === 0 ? 'middle' : `${Math.round(100 * Math.abs(pan))} % ${pan < 0 ? 'left' : 'right'}`;

function timesOffered(now: number | null): number[] {
  const usual = [1, 2, 3, 4, 6, 8, 12, 16, 32];
  return now === null || usual.includes(now) ? usual : [...usual, now].sort((a, b) => a - b);
}
