'use client';
import { useMemo, useState } from 'react';
import { lengthProposals } from '@/core/rhythm/lengthReading';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';
import { IconButton } from '../../pieces/IconButton';
import { X } from 'lucide-react';
import { lengthTaken, type GridMove } from '../gridMoves';
import type { Bench } from '../useBench';

export interface Stretch {
  from: number;
  to: number;
}

interface Props {
  bench: Bench;
  stretch: Stretch;
  onMove: (move: GridMove) => void;
  onRound: () => void;
  /** Chooses it to be cut; null where there is no grid. */
  onCut: (() => void) | null;
  /** Measures the stretch; null while that runs. */
  onMeasure: (() => void) | null;
  onClose: () => void;
}

const FOUR = { beatsPerBar: 4, beatUnit: 4 };

/** What can be made of a selected stretch: a tempo from its length, a round, a measurement. */
export function StretchBar({ bench, stretch, onMove, onRound, onCut, onMeasure, onClose }: Props) {
  const { shown, entry } = bench;
  const seconds = stretch.to - stretch.from;
  const near = shown?.grid.tempoBpm ?? entry.measurement?.tempo?.bpm ?? null;
  const meter = shown?.grid.meter ?? FOUR;
  const proposals = useMemo(
    () => (seconds > 0.05 ? lengthProposals(seconds, meter, near) : []),
    [seconds, meter, near],
  );
  const [chosen, setChosen] = useState<number | null>(null);
  const taken = proposals.find(({ beats }) => beats === chosen) ?? proposals[0];
  const wordsOf = ({ beats, bars }: { beats: number; bars: number | null }) =>
    bars !== null ? `${bars} ${bars === 1 ? 'bar' : 'bars'}` : `${beats} ${beats === 1 ? 'beat' : 'beats'}`;
  return (
    <div
      role="group"
      aria-label="Selected stretch"
      className="flex h-9 shrink-0 items-center gap-2 border-t border-look bg-wash-look px-2 text-small"
    >
      <span className="figures whitespace-nowrap" data-testid="stretch">
        {stretch.from.toFixed(3)} – {stretch.to.toFixed(3)} s, {seconds.toFixed(4)} s
      </span>
      {taken && (
        <>
          <label className="flex items-center gap-1">
            is
            <select
              className={`${fieldClass} h-6 px-1`}
              aria-label="How long the stretch is"
              value={taken.beats}
              onChange={(event) => setChosen(Number(event.target.value))}
            >
              {proposals.map((proposal) => (
                <option key={proposal.beats} value={proposal.beats}>
                  {wordsOf(proposal)}: {proposal.bpm.toFixed(3)} BPM
                </option>
              ))}
            </select>
          </label>
          <Button
            className="h-6"
            onClick={() => onMove(lengthTaken(shown, stretch, taken.beats, wordsOf(taken), true))}
          >
            Settle, from the one
          </Button>
          <Button
            className="h-6"
            title="The tempo only; the one stays"
            onClick={() => onMove(lengthTaken(shown, stretch, taken.beats, wordsOf(taken), false))}
          >
            Tempo only
          </Button>
        </>
      )}
      <Button className="ml-auto h-6" onClick={onRound}>
        Go round
      </Button>
      {onCut && (
        <Button className="h-6" onClick={onCut}>
          Cut
        </Button>
      )}
      <Button
        className="h-6"
        disabled={!onMeasure || seconds < 1}
        title="Measures only this stretch and lays the grid over the file"
        onClick={() => onMeasure?.()}
      >
        {onMeasure ? 'Measure here' : 'Measuring …'}
      </Button>
      <IconButton label="No stretch (Escape)" className="size-6" onClick={onClose}>
        <X />
      </IconButton>
    </div>
  );
}
