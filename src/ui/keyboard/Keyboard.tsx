'use client';
import clsx from 'clsx';
import type { Key } from '@/core/harmony/keyNames';
import { noteName, scaleNotes } from '@/core/harmony/scale';
import type { HeldNotes } from './useHeldNotes';

/** From C below the middle one, two octaves. */
const LOWEST = 48;
const KEYS = 25;
const IS_UPPER = [false, true, false, true, false, false, true, false, true, false, true, false];

interface Props {
  tried: Key | null;
  notes: HeldNotes;
}

/** A keyboard to be played with the pointer; notes of the tried scale carry their names. */
export function Keyboard({ tried, notes }: Props) {
  const scale = tried ? new Set(scaleNotes(tried)) : null;
  const lower = Array.from({ length: KEYS }, (_, i) => LOWEST + i).filter((midi) => !IS_UPPER[midi % 12]);
  return (
    <div className="relative h-24 shrink-0 select-none" role="group" aria-label="Keyboard">
      {Array.from({ length: KEYS }, (_, i) => LOWEST + i).map((midi) => {
        const upper = IS_UPPER[midi % 12];
        const before = lower.filter((other) => other < midi).length;
        const width = 100 / lower.length;
        const inScale = scale === null || scale.has(midi % 12);
        const isTonic = tried !== null && midi % 12 === tried.tonic;
        const name = noteName(midi, tried ?? { tonic: 0, mode: 'major' });
        return (
          <button
            key={midi}
            type="button"
            tabIndex={-1}
            aria-label={`${name}${Math.floor(midi / 12) - 1}`}
            aria-pressed={notes.held.has(midi)}
            style={{
              left: `${upper ? before * width - width * 0.3 : before * width}%`,
              width: `${upper ? width * 0.6 : width}%`,
            }}
            className={clsx(
              'absolute top-0 flex touch-none items-end justify-center border border-ink pb-1 text-tiny',
              upper ? 'z-10 h-14 bg-ink text-paper' : 'h-24 bg-sheet',
              notes.held.has(midi) && (upper ? 'bg-one' : 'bg-wash-one'),
              !inScale && 'opacity-45',
              isTonic && 'font-bold text-one',
              isTonic && upper && 'text-[#ffb7a8]',
            )}
            onPointerDown={(event) => {
              event.preventDefault();
              event.currentTarget.setPointerCapture(event.pointerId);
              notes.press(midi);
            }}
            onPointerUp={() => notes.release(midi)}
            onPointerCancel={() => notes.release(midi)}
          >
            {inScale ? name : ''}
          </button>
        );
      })}
    </div>
  );
}
