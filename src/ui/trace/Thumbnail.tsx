'use client';
import { memo, useMemo, useRef } from 'react';
import { player } from '../audio/player';
import { usePlayer, usePlayhead } from '../audio/usePlayer';
import { keepKeysFree } from '../pieces/pressedByMouse';

interface Props {
  sampleId: string;
  /** Signed bytes [min, max, …] in base 64, or null before it is measured. */
  thumbnail: string | null;
  durationSeconds: number | null;
  name: string;
}

/** A sample's waveform in a row; pressing it plays from there, or stops. */
export const Thumbnail = memo(function Thumbnail({ sampleId, thumbnail, durationSeconds, name }: Props) {
  const { sampleId: loaded, status, loaded: share, fault } = usePlayer();
  const mine = loaded === sampleId;
  const head = useRef<HTMLDivElement>(null);
  usePlayhead((time) => {
    if (!head.current) return;
    const shown = player.getState().sampleId === sampleId && durationSeconds;
    head.current.style.transform = shown
      ? `translateX(${Math.min(1, Math.max(0, time / durationSeconds)) * 100}%)`
      : 'none';
    head.current.style.visibility = shown ? 'visible' : 'hidden';
  });
  const path = useMemo(() => (thumbnail ? outline(thumbnail) : null), [thumbnail]);
  const playing = mine && status === 'playing';
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      tabIndex={-1}
      aria-label={playing ? `Stop ${name}` : `Play ${name}`}
      className="relative block h-8 w-full overflow-hidden bg-sunk/50 hover:bg-sunk"
      onClick={(event) => {
        event.stopPropagation();
        const box = event.currentTarget.getBoundingClientRect();
        const share = event.detail === 0 ? 0 : (event.clientX - box.left) / box.width;
        void playSample(sampleId, playing ? null : share * (durationSeconds ?? 0), durationSeconds);
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
      <div ref={head} className="pointer-events-none invisible absolute inset-0 border-l-2 border-one" />
      {mine && status === 'loading' && (
        <div className="absolute bottom-0 left-0 h-0.5 bg-one" style={{ width: `${share * 100}%` }} />
      )}
      {mine && fault && (
        <span className="absolute inset-0 bg-wash-one px-1 text-left text-tiny text-one">{fault}</span>
      )}
    </button>
  );
});

/** Plays a sample by itself, without the click; null stops. */
export async function playSample(sampleId: string, from: number | null, durationSeconds?: number | null) {
  if (from === null) return player.stop();
  if (!(await player.open(sampleId, durationSeconds).ready)) return;
  player.setGrid(null);
  player.setRoute([]);
  await player.play(from);
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
