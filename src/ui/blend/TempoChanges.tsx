'use client';
import { useState } from 'react';
import { BLEND_TEMPI } from '@/contract/blend';
import { bpmText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Button } from '../kit/Button';
import { TextField } from '../kit/Field';
import { numberIn, whyNotNumber } from '../kit/numbers';
import { Popup } from '../kit/Popup';
import type { BlendEditor } from './useBlend';

/** Tempo changes at bars of the blend. */
export function TempoChanges({ editor, bars }: { editor: BlendEditor; bars: number }) {
  const { changes, tempoBpm, movement } = editor.state;
  const [bar, setBar] = useState('5');
  const [tempo, setTempo] = useState('');
  if (tempoBpm === null || movement) return null;
  const wanted = { bar: Math.round(numberIn(bar) ?? 0), tempoBpm: numberIn(tempo) ?? 0 };
  const fault =
    whyNotNumber(bar, { least: 2, most: 2000, unit: '= bar tempo', whole: true }) ??
    (tempo.trim() === '' ? null : whyNotNumber(tempo, { ...BLEND_TEMPI, unit: 'BPM' }));
  const isGood = fault === null && tempo.trim() !== '';
  return (
    <Popup
      to="bottom start"
      button={changes.length === 0 ? 'one tempo' : counted(changes.length, 'tempo change')}
      width="w-64"
    >
      <ul aria-label="Tempo changes">
        <li className="figures">
          bar 1 <b>{bpmText(tempoBpm)}</b>
        </li>
        {changes.map((change) => (
          <li key={change.bar} className="flex items-center gap-2">
            <span className="figures flex-1">
              bar {change.bar} <b>{bpmText(change.tempoBpm)}</b>
            </span>
            <Button
              small
              onClick={() =>
                editor.set(
                  { changes: changes.filter((one) => one !== change) },
                  `tempo change removed at bar ${change.bar}`,
                )
              }
            >
              remove
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="flex items-center gap-1.5"
        onSubmit={(event) => {
          event.preventDefault();
          if (isGood)
            editor.set(
              { changes: [...changes.filter((one) => one.bar !== wanted.bar), wanted] },
              `${bpmText(wanted.tempoBpm)} BPM from bar ${wanted.bar} on`,
            );
        }}
      >
        from bar
        <TextField
          aria-label="Bar of the change"
          className="figures w-12"
          value={bar}
          onChange={(event) => setBar(event.target.value)}
        />
        <TextField
          aria-label="Tempo from there, BPM"
          className="figures w-16"
          placeholder="BPM"
          value={tempo}
          onChange={(event) => setTempo(event.target.value)}
        />
        <Button type="submit" disabled={!isGood}>
          Set
        </Button>
      </form>
      {fault && (
        <p role="alert" className="text-tiny text-one">
          {fault}
        </p>
      )}
      <p className="text-tiny text-ink-soft">
        The blend is {counted(bars, 'bar')} long. Lanes placed in bars follow the tempo; lanes placed in
        seconds stay.
      </p>
    </Popup>
  );
}
