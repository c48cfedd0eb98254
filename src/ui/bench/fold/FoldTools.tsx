'use client';
import clsx from 'clsx';
import { BANDS, type Band } from '@/core/traces/bandStrength';
import { Button } from '../../pieces/Button';
import { fieldClass } from '../../pieces/Field';
import type { LeanWords } from '../leanWords';
import type { FoldSettings } from './FoldView';

interface Props {
  settings: FoldSettings;
  barBeats: number;
  onSettings: (settings: FoldSettings) => void;
  words: LeanWords;
  onUpright: (() => void) | null;
  moving: boolean;
  onMoving: (moving: boolean) => void;
}

const INKS: Record<Band, string> = {
  low: 'bg-[var(--band-low)]',
  middle: 'bg-[var(--band-middle)]',
  high: 'bg-[var(--band-high)]',
};

/** How the fold is laid and drawn, how it leans, and setting it upright. */
export function FoldTools({ settings, barBeats, onSettings, words, onUpright, moving, onMoving }: Props) {
  const { rowBeats, drawing, bands } = settings;
  return (
    <>
      <label className="flex items-center gap-1 text-tiny whitespace-nowrap text-ink-soft">
        <select
          aria-label="A row is"
          className={clsx(fieldClass, 'h-6 w-[4.6rem] px-0.5')}
          value={rowBeats / barBeats}
          onChange={(event) => onSettings({ ...settings, rowBeats: Number(event.target.value) * barBeats })}
        >
          <option value={1 / barBeats}>1 beat</option>
          {[1, 2, 4, 8].map((bars) => (
            <option key={bars} value={bars}>
              {bars === 1 ? '1 bar' : `${bars} bars`}
            </option>
          ))}
        </select>
      </label>
      <select
        aria-label="Drawn as"
        className={clsx(fieldClass, 'h-6 w-[5.6rem] px-0.5')}
        value={drawing}
        onChange={(event) =>
          onSettings({ ...settings, drawing: event.target.value as FoldSettings['drawing'] })
        }
      >
        <option value="repeats">repeats</option>
        <option value="hits">all hits</option>
        <option value="waveform">waveform</option>
      </select>
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
      <select
        aria-label="Steady or moving"
        className={clsx(fieldClass, 'h-6 w-[4.9rem] px-0.5')}
        value={moving ? 'moving' : 'steady'}
        onChange={(event) => onMoving(event.target.value === 'moving')}
      >
        <option>steady</option>
        <option>moving</option>
      </select>
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
      {onUpright && (
        <Button
          className="h-6 px-1.5"
          title="Set it upright (U): tempo and place of the hits' own columns"
          onClick={onUpright}
        >
          Upright
        </Button>
      )}
    </>
  );
}
