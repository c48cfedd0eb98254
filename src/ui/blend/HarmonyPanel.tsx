'use client';
import clsx from 'clsx';
import { useMemo } from 'react';
import { noteName } from '@/core/harmony/scale';
import { keyLabel } from '@/core/harmony/keyNames';
import { Button } from '../kit/Button';
import { semitonesText } from '../target/proposalWords';
import { penStyle } from './pens';
import type { BlendEditor } from './useBlend';
import { movesOfLane, shownMoves } from './moves';
import type { Scored } from './useScore';
import { useHint } from '../kit/shortcuts';
import { LANE } from '../shortcuts/shortcutTables';

interface Props {
  editor: BlendEditor;
  scored: Scored;
  selectedLane: string | null;
}

const C = { tonic: 0, mode: 'major' } as const;

/** Do the lanes agree in harmony? The notes of each, what clashes, and the transpositions that mend it. */
export function HarmonyPanel({ editor, scored, selectedLane }: Props) {
  const { judged: score, harmony, agreement, keyChanges: changes } = scored;
  const { key } = editor.state;
  const hint = useHint();
  const pitched = harmony.filter(({ isSilent }) => !isSilent);
  const [worst] = agreement.clashes;
  const offered = useMemo(() => movesOfLane(scored, selectedLane), [scored, selectedLane]);
  const nameOf = (laneId: string) => score.lanes.find(({ lane }) => lane.laneId === laneId)?.lane.name ?? '';
  const names = Array.from({ length: 12 }, (_, note) => noteName(note, key ?? C));
  const framed = worst ? worst.notes.map((note) => names.indexOf(note)) : [];
  return (
    <section aria-label="Harmony" className="flex min-h-0 min-w-0 flex-col border-l border-rule-strong">
      <h2 className="flex items-baseline gap-2 px-3 py-1 font-semibold">
        <span className="shrink-0">Harmony</span>
        <span className="line-clamp-2 min-w-0 text-small leading-tight font-normal text-ink-soft">
          {pitched.length < 2
            ? 'fewer than two lanes have a pitch'
            : agreement.clash === null
              ? 'they never play together'
              : `clash ${Math.round(100 * agreement.clash)} of 100, ${Math.round(100 * (agreement.shared ?? 0))} % in common`}
        </span>
      </h2>
      <div className="min-h-0 flex-1 overflow-y-auto px-3 pb-2 text-tiny">
        <div className="grid grid-cols-12 text-center" aria-hidden>
          {names.map((name, note) => (
            <span
              key={name}
              className={clsx('figures', framed.includes(note) ? 'font-semibold text-one' : 'text-ink-soft')}
            >
              {name}
            </span>
          ))}
        </div>
        <div className="space-y-px">
          {pitched.map(({ laneId, whole }) => (
            <div
              key={laneId}
              className={clsx(
                'grid h-7 grid-cols-12 items-end border-b border-rule',
                laneId === selectedLane && 'bg-wash-ink',
              )}
              role="img"
              aria-label={`Notes of ${nameOf(laneId)}: ${names.filter((_, note) => whole[note] > 0.08).join(', ')}`}
              style={penStyle({ laneId })}
            >
              {names.map((name, note) => (
                <span
                  key={name}
                  className={clsx(
                    'flex h-full items-end justify-center',
                    framed.includes(note) && 'border-x border-one',
                  )}
                >
                  <span
                    className="w-3/5 bg-current"
                    style={{ height: `${Math.min(100, 320 * whole[note])}%`, minHeight: 1 }}
                  />
                </span>
              ))}
            </div>
          ))}
        </div>
        {worst ? (
          <p className="mt-1.5">
            <b className="text-one">
              {worst.notes[0]} against {worst.notes[1]}
            </b>{' '}
            {worst.count === score.bars
              ? 'in every bar'
              : worst.from === worst.to
                ? `in bar ${worst.from}`
                : `in ${worst.count} bars, ${worst.from} to ${worst.to}`}
            : {nameOf(worst.lanes[0])} and {nameOf(worst.lanes[1])}
            {agreement.clashes.length > 1 && `; ${agreement.clashes.length - 1} more`}
          </p>
        ) : (
          pitched.length > 1 && (
            <p className="mt-1.5 text-good">
              No notes clash{agreement.common.length > 0 && `; all have ${agreement.common.join(', ')}`}.
            </p>
          )
        )}
        {changes.map(({ laneId, bar, key: next }) => (
          <p key={`${laneId} ${bar}`} className="mt-1">
            {nameOf(laneId)} to <b>{keyLabel(next)}</b> from bar {bar} on
          </p>
        ))}
        {offered && selectedLane && (
          <div className="mt-1.5 flex flex-wrap items-center gap-1" role="group" aria-label="Transpositions">
            <span className="mr-1 font-semibold" style={penStyle({ laneId: selectedLane })}>
              {nameOf(selectedLane)}
            </span>
            {shownMoves(offered).map((move) => (
              <Button
                key={move.semitones}
                small
                className="text-tiny!"
                pressed={move.semitones === offered.now}
                title={hint(LANE.transpose, `Strain ${move.strain.toFixed(2)}`)}
                onClick={() =>
                  editor.lane(
                    selectedLane,
                    { semitones: move.semitones },
                    `${semitonesText(move.semitones)} semitones`,
                  )
                }
              >
                <span className="figures">{semitonesText(move.semitones)}</span>
                <span className="text-ink-soft">
                  clash {Math.round(100 * move.clash)}, strain {move.strain.toFixed(2)}
                </span>
              </Button>
            ))}
          </div>
        )}
      </div>
    </section>
  );
}
