'use client';
import { NOTE_PARTS } from '@/core/recipes/recipe';
import { percentText, signedText, timeText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Button } from '../../kit/Button';
import { Fold } from '../../kit/Group';
import { NumberField } from '../../kit/NumberField';
import { Select } from '../../kit/Select';
import { Slider } from '../../kit/Slider';
import { useHint } from '../../kit/shortcuts';
import { CUT } from '../../shortcuts/shortcutTables';
import { useBenchModel } from '../useBenchModel';
import { GrooveSettings } from './GrooveSettings';
import { QuantizedHits } from './QuantizedHits';

const CHOICE = { place: 'column', small: true, className: 'flex-1' } as const;

const SWINGS = [null, 0.5, 0.58, 0.62, 2 / 3];
const swingText = (swing: number | null) =>
  swing === null
    ? 'as played'
    : swing === 0.5
      ? 'straight'
      : swing === 2 / 3
        ? 'triplet, 0.67'
        : String(swing);

/** Where the hits of a render go: onto the grid by a share, into the groove of another sample, or by hand. */
export function HitSettings() {
  const { cut } = useBenchModel();
  const { draft, renderPlan } = cut;
  const { hits } = draft;
  const set = (patch: Partial<typeof hits>) => cut.change({ hits: { ...hits, ...patch } });
  return (
    <Fold title="Hits" open>
      <OffGrid />
      <Slider
        label="Quantize"
        min={0}
        max={1}
        value={hits.pull}
        text={percentText}
        onValue={(pull) => set({ pull })}
      />
      {hits.pull > 0 && (
        <>
          <Select
            {...CHOICE}
            label="Grid"
            value={hits.parts}
            options={NOTE_PARTS}
            text={(parts) => (parts === 1 ? 'beats' : `${parts} per beat`)}
            onChange={(parts) => set({ parts })}
          />
          <NumberField
            label="Only hits within"
            unit="ms"
            place="column"
            small
            isLive
            value={hits.windowMs}
            least={1}
            most={250}
            onValue={(windowMs) => set({ windowMs })}
          />
          <Select
            {...CHOICE}
            label="Swing"
            value={hits.swing}
            options={SWINGS}
            text={swingText}
            onChange={(swing) => set({ swing })}
          />
        </>
      )}
      {renderPlan && <QuantizedHits renderPlan={renderPlan} hits={hits} />}
      <GrooveSettings />
      {hits.moves.length > 0 && (
        <Button small className="w-full" onClick={() => set({ moves: [] })}>
          Reset all {hits.moves.length} moved hits
        </Button>
      )}
      <p className="text-tiny text-ink-soft">
        Drag single hits at the bottom of the picture; double-click one to reset it.
      </p>
    </Fold>
  );
}

/** Hits that stand off the grid beside how the others are played: walked, and moved onto it. */
function OffGrid() {
  const { lateHits } = useBenchModel();
  const hint = useHint();
  const { all, inHand, isMoved } = lateHits;
  if (all.length === 0) return <p className="text-tiny text-ink-soft">No hit stands out of the grid.</p>;
  return (
    <div role="group" aria-label="Hits off the grid" className="space-y-1 border border-rule bg-sheet p-1">
      <p role="status" className="text-tiny">
        {inHand ? (
          <>
            <b className="figures">{signedText(inHand.ms, 1, 'ms')}</b> at {timeText(inHand.time, 3)}
            {isMoved(inHand) && ', moved onto the grid'}
          </>
        ) : (
          `${counted(all.length, 'hit')} off the grid, at most ${signedText(all[0].ms, 0, 'ms')}`
        )}
      </p>
      <div className="flex gap-1">
        <Button small title={hint(CUT.nextLate)} onClick={lateHits.next}>
          {inHand ? `Next of ${all.length}` : 'Worst first'}
        </Button>
        {inHand && (
          <Button small title={hint(CUT.toGrid)} onClick={lateHits.toggle}>
            {isMoved(inHand) ? 'Put back' : 'Onto grid'}
          </Button>
        )}
        {inHand ? (
          <Button small onClick={lateHits.leave}>
            Whole range
          </Button>
        ) : (
          <Button small onClick={lateHits.moveAll}>
            All onto grid
          </Button>
        )}
      </div>
    </div>
  );
}
