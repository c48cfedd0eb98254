'use client';
import { useState } from 'react';
import { BLEND_TEMPI } from '@/contract/blend';
import { Button } from '../kit/Button';
import { NumberField } from '../kit/NumberField';
import { numberIn, rounded, whyNotNumber } from '../kit/numbers';
import { useTapTempo } from '../kit/useTapTempo';

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
  const [typed, setTyped] = useState<string | null>(null);
  const tap = useTapTempo(BLEND_TEMPI, onSet);
  const fault = typed?.trim() ? whyNotNumber(typed, { ...BLEND_TEMPI, unit: 'BPM' }) : null;
  const number = typed === null ? null : numberIn(typed);
  return (
    <span className="relative flex items-center gap-1">
      <NumberField
        label="Tempo of the blend, BPM"
        title="Tempo of the blend"
        unit="BPM"
        placeholder="–"
        className="w-18 text-right font-semibold"
        value={tempoBpm}
        {...BLEND_TEMPI}
        onTyping={setTyped}
        onValue={(bpm) => onSet(rounded(bpm, 3))}
      />
      {typed?.trim() && (fault || number !== tempoBpm) && (
        <span
          role="status"
          className="absolute top-full left-0 z-20 mt-1 w-80 border border-rule-strong bg-wash-look px-2 py-1 text-tiny whitespace-normal"
        >
          {fault ?? moves(number!)}
        </span>
      )}
      <Button onClick={(event) => tap(event.timeStamp)} title="Tap the tempo">
        Tap
      </Button>
    </span>
  );
}
