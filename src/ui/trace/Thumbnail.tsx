'use client';
import clsx from 'clsx';
import { memo, useMemo, useRef } from 'react';
import { engine } from '../audio/engine';
import { useEngine, usePlayhead } from '../audio/useEngine';
import { keepKeysFree } from '../kit/pressedByMouse';

interface Props {
  sampleId: string;
  /** Signed bytes [min, max, …] in base 64, or null before it is measured. */
  thumbnail: string | null;
  durationSeconds: number | null;
  name: string;
  /** Plays from a place, or stops; null: as it was recorded, by itself. */
  onPlay?: (from: number) => void;
  /** Twice as tall as in a row. */
  isTall?: boolean;
}

/** A sample's waveform in a row; pressing it plays from there, or stops. */
export const Thumbnail = memo(function Thumbnail({
  sampleId,
  thumbnail,
  durationSeconds,
  name,
  onPlay,
  isTall = false,
}: Props) {
  const path = useMemo(() => (thumbnail ? outline(thumbnail) : null), [thumbnail]);
  const mine = useEngine((state) => (state.sampleId === sampleId ? state : null));
  const isBeside = useEngine((state) => state.status === 'playing' && state.beside.includes(sampleId));
  const playing = mine?.status === 'playing' || isBeside;
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      tabIndex={-1}
      aria-label={playing ? `Stop ${name}` : `Play ${name}`}
      className={clsx(
        'relative block w-full shrink-0 overflow-hidden bg-sunk/50 hover:bg-sunk',
        isTall ? 'h-16' : 'h-8',
      )}
      onClick={(event) => {
        event.stopPropagation();
        const box = event.currentTarget.getBoundingClientRect();
        const share = event.detail === 0 ? 0 : (event.clientX - box.left) / box.width;
        const from = share * (durationSeconds ?? 0);
        if (onPlay) onPlay(from);
        else engine.toggleAlone(sampleId, durationSeconds, from);
      }}
    >
      {path && (
        <svg
          viewBox="0 -128 160 256"
          preserveAspectRatio="none"
          className="absolute inset-0 size-full"
          aria-hidden
        >
          <path d={path} fill={playing ? 'var(--one)' : 'var(--trace)'} />
        </svg>
      )}
      {mine && durationSeconds && <Playhead durationSeconds={durationSeconds} />}
      {mine?.status === 'loading' && (
        <div className="absolute bottom-0 left-0 h-0.5 bg-one" style={{ width: `${mine.loaded * 100}%` }} />
      )}
      {mine?.fault && (
        <span className="absolute inset-0 bg-wash-one px-1 text-left text-tiny text-one">{mine.fault}</span>
      )}
    </button>
  );
});

/** Only where something is open: no other row follows what is heard. */
function Playhead({ durationSeconds }: { durationSeconds: number }) {
  const head = useRef<HTMLDivElement>(null);
  usePlayhead((time) => {
    const share = Math.min(1, Math.max(0, time / durationSeconds));
    if (head.current) head.current.style.transform = `translateX(${share * 100}%)`;
  });
  return <div ref={head} className="pointer-events-none absolute inset-0 border-l-2 border-one" />;
}

function outline(base64: string): string {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  const values = new Int8Array(bytes.buffer);
  let upper = '';
  let lower = '';
  for (let c = 0; c * 2 + 1 < values.length; c++) {
    const low = Math.min(values[2 * c], -1);
    const high = Math.max(values[2 * c + 1], 1);
    upper += `${c === 0 ? 'M' : 'L'}${c},${-high * 0.95}L${c + 1},${-high * 0.95}`;
    lower = `L${c + 1},${-low * 0.95}L${c},${-low * 0.95}${lower}`;
  }
  return `${upper}${lower}Z`;
}
