'use client';
import { counted } from '@/words/plural';
import { useMemo, useState } from 'react';
import { lengthProposals } from '@/core/rhythm/lengthReading';
import { Button } from '../../kit/Button';
import { IconButton } from '../../kit/IconButton';
import { X } from 'lucide-react';
import { lengthTaken } from '../gridMoves';
import { Select } from '../../kit/Select';
import { useHint } from '../../kit/shortcuts';
import { GRID } from '../../shortcuts/shortcutTables';
import { useBenchModel, type Selected } from '../useBenchModel';
import { useMeasureSelection } from '../useMeasureSelection';

interface Props {
  selected: Selected;
  /** Selects it to be cut; null where there is no grid. */
  onCut: (() => void) | null;
}

const FOUR = { beatsPerBar: 4, beatUnit: 4 };

/** What can be done with the selection: a tempo from its length, a loop, a cut, a measurement. */
export function SelectionBar({ selected, onCut }: Props) {
  const { bench, settling, looping, select, taps } = useBenchModel();
  const onMeasure = useMeasureSelection();
  const onMove = settling.settle;
  const hint = useHint();
  const { shown, entry } = bench;
  const seconds = selected.to - selected.from;
  const tapped = taps.estimate;
  // What was tapped over it says how many beats it holds.
  const near = tapped?.bpm ?? shown?.grid.tempoBpm ?? entry.measurement?.tempo?.bpm ?? null;
  const meter = shown?.grid.meter ?? FOUR;
  const proposals = useMemo(
    () => (seconds > 0.05 ? lengthProposals(seconds, meter, near) : []),
    [seconds, meter, near],
  );
  const [chosen, setChosen] = useState<number | null>(null);
  const taken = proposals.find(({ beats }) => beats === chosen) ?? proposals[0];
  const wordsOf = ({ beats, bars }: { beats: number; bars: number | null }) =>
    bars !== null ? counted(bars, 'bar') : `${counted(beats, 'beat')}`;
  return (
    <div
      role="group"
      aria-label="Selection"
      className="flex min-h-9 shrink-0 flex-wrap items-center gap-x-2 gap-y-1 py-1 border-t border-look bg-wash-look px-2 text-small"
    >
      <span className="figures whitespace-nowrap" data-testid="stretch">
        {selected.from.toFixed(3)} – {selected.to.toFixed(3)} s, {seconds.toFixed(4)} s
      </span>
      {taken && tapped && (
        <span role="status" aria-label="Compared" className="figures text-tiny whitespace-nowrap">
          tapped {tapped.bpm.toFixed(2)} ±{Math.max(0.01, tapped.bpmError).toFixed(2)} · {wordsOf(taken)}{' '}
          {taken.bpm.toFixed(3)}
          {shown && ` · grid ${shown.grid.tempoBpm.toFixed(3)}`}
        </span>
      )}
      {taken && (
        <>
          <Select
            label="Length of the selection"
            small
            className="w-44"
            value={taken.beats}
            options={proposals.map(({ beats }) => beats)}
            text={(beats) => {
              const proposal = proposals.find((one) => one.beats === beats)!;
              return `${wordsOf(proposal)}: ${proposal.bpm.toFixed(3)} BPM`;
            }}
            onChange={setChosen}
          />
          <Button
            small
            onClick={() => onMove(lengthTaken(shown, selected, taken.beats, wordsOf(taken), true))}
          >
            Use, from the one
          </Button>
          <Button
            small
            title="Change only the tempo; keep the one"
            onClick={() => onMove(lengthTaken(shown, selected, taken.beats, wordsOf(taken), false))}
          >
            Tempo only
          </Button>
        </>
      )}
      <Button small className="ml-auto" onClick={() => looping.setLooped({ kind: 'stretch', ...selected })}>
        Loop
      </Button>
      {onCut && (
        <Button small onClick={onCut}>
          Cut
        </Button>
      )}
      <Button
        small
        disabled={!onMeasure || seconds < 1}
        title="Measure the selection and extend its grid over the file"
        onClick={() => onMeasure?.()}
      >
        {onMeasure ? 'Measure selection' : 'Measuring…'}
      </Button>
      <IconButton small label={hint(GRID.clear)} onClick={() => select(null)}>
        <X />
      </IconButton>
    </div>
  );
}
