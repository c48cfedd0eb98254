'use client';
import { counted } from '@/words/plural';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { simulatedKeyboard } from '../../audio/midi';
import { Button } from '../../kit/Button';
import { KeyHint } from '../../kit/KeyHint';
import { percentText } from '@/words/figures';
import { TAP_UNITS, type Taps } from '../useTaps';
import { Checkbox } from '../../kit/Checkbox';
import { Select } from '../../kit/Select';
import { useHint, useKeyText } from '../../kit/shortcuts';
import { GRID } from '../../shortcuts/shortcutTables';

/** The button is a pad of the simulated keyboard: it taps by the same messages as a real pad. */
const PAD_NOTE = 36;
const pad = (at: number) => {
  simulatedKeyboard.press(PAD_NOTE, at);
  simulatedKeyboard.release(PAD_NOTE, at);
};

/** Less sure taps are no even row. */
const UNEVEN = 0.5;

interface Props {
  taps: Taps;
  bpm: number | null;
  onTake: () => void;
}

/** Tapping along: what it says so far, whether it has settled, and taking it. */
export function TapLine({ taps, bpm, onTake }: Props) {
  const hint = useHint();
  const keyText = useKeyText();
  const { estimate, count, unit, placesOne } = taps;
  const relation = estimate && bpm ? tempoRelation(estimate.bpm, bpm) : null;
  return (
    <div className="space-y-1">
      <div className="flex min-h-7 items-center gap-2 text-small">
        <Button
          onPointerDown={(event) => pad(event.timeStamp)}
          onKeyDown={(event) =>
            (event.code === 'Space' || event.code === 'Enter') && !event.repeat && pad(event.timeStamp)
          }
          title={hint(GRID.tap, 'Tap along with the beat')}
        >
          Tap <KeyHint>{keyText(GRID.tap)}</KeyHint>
        </Button>
        {estimate ? (
          <>
            <span className="leading-tight" role="status" data-testid="taps">
              <b className="figures">
                {estimate.bpm.toFixed(2)} ±{Math.max(0.01, estimate.bpmError).toFixed(2)}
              </b>{' '}
              <span className="text-ink-soft">
                {estimate.taps} taps, {percentText(estimate.sureness)} confidence
                {estimate.settled ? ', in use' : ', keep tapping'}
                {relation ? `, ${relation.words}` : ''}
              </span>
            </span>
            <Button className="ml-auto" onClick={onTake}>
              Use
            </Button>
          </>
        ) : (
          <span className="text-ink-soft">
            {count > 0 ? `${count} of at least 3 taps` : 'along with the beat'}
          </span>
        )}
      </div>
      {estimate && (estimate.leftOut || estimate.strays > 0 || estimate.sureness < UNEVEN) && (
        <p className="text-tiny text-look" role="status">
          {estimate.leftOut &&
            `${estimate.leftOut.taps} taps before a pause of ${estimate.leftOut.pauseSeconds.toFixed(1)} s are ignored. `}
          {estimate.strays > 0 &&
            `${counted(estimate.strays, 'uneven tap is', 'uneven taps are')} left out. `}
          {estimate.sureness < UNEVEN &&
            `The taps are uneven: ${Math.round(estimate.gapsMs[0])} to ${Math.round(estimate.gapsMs[1])} ms apart.`}
        </p>
      )}
      {count > 0 && (
        <div className="flex items-center gap-2 text-tiny text-ink-soft">
          <Select
            label="one tap ="
            place="beside"
            small
            value={unit}
            options={TAP_UNITS.map(({ beats }) => beats)}
            text={(beats) => TAP_UNITS.find((one) => one.beats === beats)!.name}
            onChange={taps.setUnit}
          />
          <Checkbox label="first tap is the one" value={placesOne} onValue={taps.setPlacesOne} />
        </div>
      )}
    </div>
  );
}
