'use client';
import clsx from 'clsx';
import { BANDS, type Band } from '@/core/traces/bandStrength';
import { Button } from '../../kit/Button';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { barsText } from '@/words/figures';
import { Select } from '../../kit/Select';
import { useHint } from '../../kit/shortcuts';
import { GRID } from '../../shortcuts/shortcutTables';
import { gridFollowing, gridSteady, SMOOTH_BEATS } from '../gridMoves';
import { useBenchModel } from '../useBenchModel';

const DRAWINGS = ['repeats', 'hits', 'waveform'] as const;
const DRAWING_WORDS = { repeats: 'repeating part', hits: 'all hits', waveform: 'waveform' };

const INKS: Record<Band, string> = {
  low: 'bg-[var(--band-low)]',
  middle: 'bg-[var(--band-middle)]',
  high: 'bg-[var(--band-high)]',
};

/** How the fold is drawn, how it leans, and straightening it. */
export function FoldTools() {
  const model = useBenchModel();
  const { bench, onsets, durationSeconds, settling, straighten, leanWords: words } = model;
  const { fold: settings, setFold: onSettings } = model;
  const { rowBeats, drawing, bands } = settings;
  const hint = useHint();
  const { shown, grid } = bench;
  if (!shown || !grid) return null;
  const barBeats = feltBeatsPerBar(grid.meter);
  const setMoving = (way: 'steady' | 'moving') =>
    settling.settle(
      way === 'moving' ? gridFollowing(shown, onsets, durationSeconds, SMOOTH_BEATS) : gridSteady(shown),
    );
  return (
    <>
      <Select
        label="Row"
        small
        className="w-[4.8rem]"
        value={rowBeats / barBeats}
        options={[1 / barBeats, 1, 2, 4, 8]}
        text={(bars) => (bars < 1 ? '1 beat' : barsText(bars))}
        onChange={(bars) => onSettings({ ...settings, rowBeats: bars * barBeats })}
      />
      <Select
        label="Show"
        small
        className="w-[7.4rem]"
        value={drawing}
        options={DRAWINGS}
        text={DRAWING_WORDS}
        onChange={(next) => onSettings({ ...settings, drawing: next })}
      />
      {drawing !== 'waveform' && (
        <div className="flex" role="group" aria-label="Bands">
          {[...BANDS].reverse().map((band) => (
            <button
              key={band}
              type="button"
              aria-pressed={bands.includes(band)}
              className={clsx(
                'flex h-6 items-center gap-0.5 px-px text-tiny hover:bg-wash-ink',
                !bands.includes(band) && 'text-ink-soft line-through',
              )}
              onClick={() => {
                const next = BANDS.filter((b) => (b === band ? !bands.includes(b) : bands.includes(b)));
                onSettings({ ...settings, bands: next.length ? next : BANDS });
              }}
            >
              <span className={clsx('size-2.5', bands.includes(band) ? INKS[band] : 'bg-rule')} aria-hidden />
              {band}
            </button>
          ))}
        </div>
      )}
      <Select
        label="Steady or moving"
        small
        className="w-[5rem]"
        value={grid.movingBeats ? 'moving' : 'steady'}
        options={['steady', 'moving'] as const}
        onChange={setMoving}
      />
      <span
        role="status"
        data-testid="lean"
        title={words.text}
        className={clsx(
          'ml-auto line-clamp-2 min-w-0 px-1.5 font-semibold',
          // Lean and offset together take two lines.
          words.text.includes(',') && 'text-tiny leading-[0.8rem]',
          words.upright ? 'bg-wash-good text-good' : 'bg-wash-look text-look',
        )}
      >
        {words.text}
      </span>
      {straighten && (
        <Button
          small
          title={hint(GRID.straighten, 'Set tempo and the one from the hits')}
          onClick={straighten}
        >
          Straighten
        </Button>
      )}
    </>
  );
}
