'use client';
import { useState } from 'react';
import { BLEND_TEMPI } from '@/contract/blend';
import { estimateTaps } from '@/core/rhythm/taps';
import { Button } from '../pieces/Button';
import { TextField } from '../pieces/Field';
import { bpmText } from '../pieces/figures';
import { numberIn, useTyped } from '../pieces/useTyped';

const isTempo = (bpm: number) => bpm >= BLEND_TEMPI.least && bpm <= BLEND_TEMPI.most;
const rounded = (bpm: number) => Math.round(bpm * 1000) / 1000;

/** The tempo of a blend: typed, stepped with the arrow keys, or tapped. */
export function TempoOfBlend({
  tempoBpm,
  moves,
  onSet,
}: {
  tempoBpm: number | null;
  /** What another tempo would move, as a sentence. */
  moves: (bpm: number) => string;
  onSet: (bpm: number) => void;
}) {
  const [taps, setTaps] = useState<readonly number[]>([]);
  const { typed, field } = useTyped(tempoBpm === null ? '' : bpmText(tempoBpm), (text) => {
    const bpm = numberIn(text);
    if (bpm !== null && isTempo(bpm) && bpm !== tempoBpm) onSet(rounded(bpm));
  });
  const number = typed === null ? null : numberIn(typed);
  const isBad = typed !== null && typed.trim() !== '' && !(number !== null && isTempo(number));
  const tap = (at: number) => {
    const times = [...taps, at / 1000].slice(-32);
    setTaps(times);
    const found = estimateTaps(times);
    if (found && isTempo(found.bpm)) onSet(Math.round(found.bpm * 10) / 10);
  };
  return (
    <span className="relative flex items-center gap-1">
      <TextField
        aria-label="Tempo of the blend, BPM"
        aria-invalid={isBad}
        title={isBad ? `${BLEND_TEMPI.least} to ${BLEND_TEMPI.most} BPM` : 'Tempo of the blend'}
        inputMode="decimal"
        placeholder="–"
        className="figures w-18 text-right font-semibold"
        {...field}
        onKeyDown={(event) => {
          field.onKeyDown(event);
          if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
          event.preventDefault();
          const by = (event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 0.1 : 1);
          if (tempoBpm !== null && isTempo(tempoBpm + by)) onSet(rounded(tempoBpm + by));
        }}
      />
      {number !== null && !isBad && number !== tempoBpm && (
        <span
          role="status"
          className="absolute top-full left-0 z-20 mt-1 w-80 border border-rule-strong bg-wash-look px-2 py-1 text-tiny whitespace-normal"
        >
          {moves(number)}
        </span>
      )}
      <span className="text-ink-soft">BPM</span>
      <Button onClick={(event) => tap(event.timeStamp)} title="Tap the tempo">
        Tap
      </Button>
    </span>
  );
}
