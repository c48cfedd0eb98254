'use client';
import { MIDI_AS } from '@/contract/pack';
import { AUDIO_FORMATS, RATES, type AudioWriteFormat } from '@/core/recipes/recipe';
import { formatText } from '@/words/figures';
import type { LabelPlace } from './Field';
import { Select } from './Select';

interface Props<V> {
  place?: LabelPlace;
  value: V;
  onChange: (value: V) => void;
  className?: string;
}

/** The format that audio is written in. */
export function FormatSelect(props: Props<AudioWriteFormat> & { autoFocus?: boolean }) {
  return <Select label="Format" options={AUDIO_FORMATS} text={formatText} {...props} />;
}

/** The sample rate it is written at; `own`: what stands for that of each sample, null where there is no such choice. */
export function RateSelect({ own, ...props }: Props<number | null> & { own: string | null }) {
  return (
    <Select
      label="Sample rate"
      options={own === null ? RATES : [null, ...RATES]}
      text={(rate) => (rate === null ? (own ?? '') : `${rate / 1000} kHz`)}
      {...props}
    />
  );
}

const MIDI_WORDS = { notes: 'keep MIDI as notes', audio: 'render MIDI as audio' };

/** What a MIDI performance becomes at a target. */
export function MidiSelect(props: Props<(typeof MIDI_AS)[number]>) {
  return <Select label="MIDI at the target" options={MIDI_AS} text={MIDI_WORDS} {...props} />;
}
