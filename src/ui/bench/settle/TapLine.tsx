'use client';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { simulatedKeyboard } from '../../audio/midi';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';
import { KeyHint } from '../../pieces/KeyHint';
import { percentText } from '../../pieces/figures';
import { TAP_UNITS, type Taps } from '../useTaps';

/** The button is a pad of the simulated keyboard: it taps by the same messages as a real pad. */
const PAD_NOTE = 36;
const pad = (at: number) => {
  simulatedKeyboard.press(PAD_NOTE, at);
  simulatedKeyboard.release(PAD_NOTE, at);
};

interface Props {
  taps: Taps;
  bpm: number | null;
  onTake: () => void;
}

/** Tapping along: what it says so far, whether it has settled, and taking it. */
export function TapLine({ taps, bpm, onTake }: Props) {
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
          title="Tap along with the beat (T)"
        >
          Tap <KeyHint>T</KeyHint>
        </Button>
        {estimate ? (
          <>
            <span className="leading-tight" role="status" data-testid="taps">
              <b className="figures">
                {estimate.bpm.toFixed(2)} ±{Math.max(0.01, estimate.bpmError).toFixed(2)}
              </b>{' '}
              <span className="text-ink-soft">
                {estimate.taps} taps, {percentText(estimate.sureness)} sure
                {estimate.settled ? ', settled' : ', go on'}
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
      {count > 0 && (
        <div className="flex items-center gap-2 text-tiny text-ink-soft">
          <label className="flex items-center gap-1">
            one tap is a
            <select
              className={`${fieldClass} h-6`}
              value={unit}
              onChange={(event) => taps.setUnit(Number(event.target.value))}
            >
              {TAP_UNITS.map(({ beats, name }) => (
                <option key={beats} value={beats}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={placesOne}
              onChange={(event) => taps.setPlacesOne(event.target.checked)}
            />
            the first tap is the one
          </label>
        </div>
      )}
    </div>
  );
}
