'use client';
import clsx from 'clsx';
import { max } from 'd3-array';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { tempoBin, type ShelfOverview } from '@/contract/overview';
import { countText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Figure } from './Figure';
import {
  binAt,
  FASTEST,
  ghostsOf,
  placeOf,
  SLOWEST,
  windowBetween,
  windowOfBin,
  type TempoWindow,
} from './tempoWindow';

/** Tempi that are written under the picture, BPM. */
const WRITTEN = [40, 60, 80, 100, 140, 200];
/** Less than this is a press, pixels. */
const PULLED = 3;
/** So near to an edge it is that edge which is pulled, pixels. */
const GRIP = 5;

const percent = (place: number) => `${(place * 100).toFixed(3)}%`;
const spanned = ({ from, to }: TempoWindow) => ({
  left: percent(placeOf(from)),
  width: `max(2px, ${percent(placeOf(to) - placeOf(from))})`,
});

function binText(bin: number, count: number): string {
  const [from, to] = tempoBin(bin);
  return `${from.toFixed(1)} to ${to.toFixed(1)} BPM: ${counted(count, 'sample')}`;
}

interface Props {
  tempi: ShelfOverview['tempi'];
  from: number | null;
  to: number | null;
  alsoHalfDouble: boolean;
  onWindow: (window: TempoWindow | null) => void;
  onHalfDouble: (on: boolean) => void;
}

/** How many samples have which tempo. Pulling across it narrows the list to these tempi, with half and double as ghosts. */
export function TempoHistogram({ tempi, from, to, alsoHalfDouble, onWindow, onHalfDouble }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [pull, setPull] = useState<{ since: number; until: number } | null>(null);
  const { bins, slower, faster, without, exact } = tempi;
  const most = max(bins) || 1;
  const chosen =
    from === null && to === null
      ? null
      : { from: from ?? SLOWEST, to: Math.max(from ?? SLOWEST, to ?? FASTEST) };
  const shown = pull ? windowBetween(pull.since, pull.until) : chosen;
  const ghosts = shown ? ghostsOf(shown) : [];
  const isIn = (bin: number) => {
    const [a, b] = tempoBin(bin);
    return [shown, ...(alsoHalfDouble ? ghosts : [])].some((one) => one && a < one.to && b > one.from);
  };
  const placeAt = ({ clientX }: PointerEvent) => {
    const { left, width } = box.current!.getBoundingClientRect();
    return (clientX - left) / width;
  };
  const begin = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    const at = placeAt(event);
    // An edge of what is chosen is pulled further; anywhere else a new choice begins.
    const isAt = (bpm: number) => Math.abs(placeOf(bpm) - at) * box.current!.clientWidth < GRIP;
    const since =
      chosen && isAt(chosen.from)
        ? placeOf(chosen.to)
        : chosen && isAt(chosen.to)
          ? placeOf(chosen.from)
          : at;
    setPull({ since, until: at });
  };
  const end = () => {
    if (!pull) return;
    setPull(null);
    const width = box.current!.clientWidth;
    if (Math.abs(pull.until - pull.since) * width >= PULLED)
      return onWindow(windowBetween(pull.since, pull.until));
    const bin = windowOfBin(binAt(pull.since));
    onWindow(bin.from === from && bin.to === to ? null : bin);
  };
  const move = (which: keyof TempoWindow) => (event: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[
      event.key
    ];
    if (!by && event.key !== 'Escape') return;
    event.preventDefault();
    event.stopPropagation();
    if (!by) return onWindow(null);
    const now = chosen ?? { from: SLOWEST, to: Math.round(FASTEST) };
    const next = { ...now, [which]: Math.min(FASTEST, Math.max(SLOWEST, Math.round(now[which]) + by)) };
    onWindow({ from: Math.min(next.from, next.to), to: Math.max(next.from, next.to) });
  };
  const beside = [
    slower > 0 && `${countText(slower, exact)} slower`,
    faster > 0 && `${countText(faster, exact)} faster`,
    without > 0 && `${countText(without, exact)} without tempo`,
  ].filter(Boolean);
  return (
    <Figure
      title="Tempo"
      unit="BPM"
      exact={exact}
      note={beside.join(', ')}
      onClear={chosen ? () => onWindow(null) : null}
      figures={bins.flatMap((count, bin) => (count > 0 ? [binText(bin, count)] : []))}
    >
      <div className="relative h-full pb-4">
        <div
          ref={box}
          className="relative h-full cursor-crosshair touch-none border-b border-rule-strong"
          onPointerDown={begin}
          onPointerMove={(event) => pull && setPull({ ...pull, until: placeAt(event) })}
          onPointerUp={end}
          onPointerCancel={() => setPull(null)}
        >
          <svg
            aria-hidden
            className="absolute inset-0 size-full"
            viewBox={`0 0 ${bins.length} 100`}
            preserveAspectRatio="none"
          >
            {bins.map((count, bin) => (
              <rect
                key={bin}
                x={bin + 0.08}
                width={0.84}
                y={100 - (count / most) * 96}
                height={(count / most) * 96}
                className={!shown || isIn(bin) ? 'fill-trace' : 'fill-trace-soft opacity-60'}
              >
                <title>{binText(bin, count)}</title>
              </rect>
            ))}
          </svg>
          {shown && (
            <div
              aria-hidden
              className="pointer-events-none absolute inset-y-0 border-x-2 border-ink bg-ink/8"
              style={spanned(shown)}
            />
          )}
          {!pull &&
            ghosts.map((ghost) => (
              <button
                key={ghost.from}
                type="button"
                aria-pressed={alsoHalfDouble}
                aria-label={`Also ${ghost.from < shown!.from ? 'half' : 'double'}: ${Math.round(ghost.from)} to ${Math.round(ghost.to)} BPM`}
                title={alsoHalfDouble ? 'Half and double are listed, too' : 'List half and double, too'}
                className={clsx(
                  'absolute inset-y-0 min-w-2 border border-dashed border-ink-soft hover:border-ink',
                  alsoHalfDouble && 'bg-ink/8',
                )}
                style={spanned(ghost)}
                onPointerDown={(event) => event.stopPropagation()}
                onClick={() => onHalfDouble(!alsoHalfDouble)}
              />
            ))}
          {(['from', 'to'] as const).map((which) => {
            const bpm = Math.round(shown?.[which] ?? (which === 'from' ? SLOWEST : FASTEST));
            return (
              <div
                key={which}
                role="slider"
                tabIndex={0}
                aria-label={which === 'from' ? 'Slowest tempo' : 'Fastest tempo'}
                aria-valuemin={SLOWEST}
                aria-valuemax={Math.round(FASTEST)}
                aria-valuenow={bpm}
                aria-valuetext={`${bpm} BPM`}
                className="pointer-events-none absolute inset-y-0 w-1.5 -translate-x-1/2"
                style={{ left: percent(placeOf(bpm)) }}
                onKeyDown={move(which)}
              />
            );
          })}
        </div>
        {WRITTEN.map((bpm) => (
          <span
            key={bpm}
            aria-hidden
            className={clsx(
              'figures absolute bottom-0 text-tiny text-ink-soft',
              bpm > SLOWEST && '-translate-x-1/2',
            )}
            style={{ left: percent(placeOf(bpm)) }}
          >
            {bpm}
          </span>
        ))}
      </div>
    </Figure>
  );
}
