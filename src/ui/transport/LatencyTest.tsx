'use client';
import { useState } from 'react';
import { median } from '@/core/math/median';
import { engine } from '../audio/engine';
import { useEngine } from '../audio/useEngine';
import { Button } from '../kit/Button';
import { signedText } from '@/words/figures';

const WANTED = 8;

/** Tapping along with the click tells how much later it is heard than the browser says. */
export function LatencyTest() {
  const extraLatency = useEngine((state) => state.extraLatency);
  const playing = useEngine((state) => state.status === 'playing');
  const [offsets, setOffsets] = useState<number[]>([]);
  const tap = (at: number) => {
    const late = Math.max(0, performance.now() - at) / 1000;
    const offset = engine.besideClick(engine.position() - late);
    if (offset === null) return;
    const next = [...offsets, offset];
    if (next.length < WANTED) return setOffsets(next);
    // Later taps mean that the click is heard later than thought.
    engine.setExtraLatency(Math.max(-0.3, Math.min(0.5, extraLatency + median(next))));
    setOffsets([]);
  };
  return (
    <div className="space-y-1 border-t border-rule pt-2">
      <p className="text-tiny text-ink-soft">
        Extra output latency: <span className="figures">{signedText(1000 * extraLatency, 0, 'ms')}</span>. To
        measure it, play with the click and tap along {WANTED} times.
      </p>
      <div className="flex gap-1.5">
        <Button
          disabled={!playing}
          onPointerDown={(event) => tap(event.timeStamp)}
          onKeyDown={(event) =>
            (event.code === 'Space' || event.code === 'Enter') && !event.repeat && tap(event.timeStamp)
          }
        >
          Tap with the click {offsets.length > 0 && `(${offsets.length}/${WANTED})`}
        </Button>
        <Button disabled={extraLatency === 0} onClick={() => engine.setExtraLatency(0)}>
          Reset
        </Button>
      </div>
    </div>
  );
}
