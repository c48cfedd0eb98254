'use client';
import clsx from 'clsx';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { keyLabel, pitchClassOf, type Key } from '@/core/harmony/keyNames';
import { chromaTotal, keyReasons, reasonWords } from '@/core/harmony/keyReasons';
import { keyNeighbours, scaleTriads } from '@/core/harmony/scale';
import type { Traces } from '@/core/traces/traces';
import { sustained } from '../../audio/sustained';
import { usePlayhead } from '../../audio/useEngine';
import { Button } from '../../kit/Button';
import { KeySelect } from '../../kit/KeySelect';
import { KeyHint } from '../../kit/KeyHint';
import { percentText, signedText } from '@/words/figures';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { Canvas } from '../../trace/Canvas';
import { useInks } from '../../trace/useInks';
import { drawChroma } from './drawChroma';
import { Keyboard } from '../../keyboard/Keyboard';
import { useHeldNotes } from '../../keyboard/useHeldNotes';
import { tonicMidi, useScaleKeys } from '../../keyboard/useScaleKeys';
import { useBenchModel } from '../useBenchModel';
import type { Bench } from '../useBench';

const same = (a: Key | null, b: Key | null) =>
  a !== null && b !== null && a.tonic === b.tonic && a.mode === b.mode;

/** The sample's notes against the scale of a key, and a keyboard to try keys by ear at its tuning. */
export function KeyView({ traces }: { traces: Traces }) {
  const { bench, midi } = useBenchModel();
  const { entry, settle } = bench;
  const { settled, measurement } = entry;
  const settledKey = settled.key && !('none' in settled.key) ? settled.key : null;
  const ranked = useMemo(() => rankedKeys(measurement), [measurement]);
  const [tried, setTried] = useState<Key | null>(settledKey ?? ranked[0]?.key ?? null);
  const tuning = settled.tuningCents ?? 0;
  const notes = useHeldNotes(tuning);
  const { press, release, releaseAll } = notes;
  useScaleKeys(tried);
  useEffect(() => midi.listen(sustained(press, release)), [midi, press, release]);

  const [all, bass] = useMemo(
    () => [chromaTotal(traces.chords.rows), chromaTotal(traces.bass.rows)],
    [traces],
  );
  const reasonsOf = (key: Key) => reasonWords(keyReasons(all, bass, key), key);
  const inks = useInks();
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) =>
      drawChroma(context, width, height, inks, traces, tried),
    [inks, traces, tried],
  );
  const head = useRef<HTMLDivElement>(null);
  usePlayhead((time) => {
    const box = head.current?.parentElement;
    if (head.current && box)
      head.current.style.transform = `translateX(${44 + (time / traces.durationSeconds) * (box.clientWidth - 194)}px)`;
  });

  const settleKey = (value: Key | { none: true }) =>
    settle({ key: value }, 'none' in value ? 'no key' : `key ${keyLabel(value)}`, {
      property: 'key',
      value: 'none' in value ? value : { tonic: value.tonic, mode: value.mode },
      source: 'typed',
      sureness: 0.95,
      detail: 'chosen by ear',
    });

  return (
    <div className="flex min-h-0 flex-1 flex-col" data-testid="key-view">
      <div className="flex min-h-0 flex-1">
        <div
          className="relative min-w-0 flex-1 overflow-hidden"
          role="img"
          aria-label={
            tried
              ? `Notes over time against ${keyLabel(tried)}: ${reasonsOf(tried)}`
              : 'Notes over time, no key selected'
          }
        >
          <Canvas draw={draw} />
          <div ref={head} className="pointer-events-none absolute inset-y-0 left-0 w-px bg-ink" aria-hidden />
        </div>
        <div className="w-72 shrink-0 overflow-y-auto border-l border-rule-strong bg-paper text-small">
          <h2 className="px-2 pt-2 text-tiny text-ink-soft">Measured</h2>
          {ranked.map(({ key, sureness }) => (
            <KeyRow
              key={keyLabel(key)}
              keyOf={key}
              note={percentText(sureness)}
              reasons={reasonsOf(key)}
              tried={same(tried, key)}
              settled={same(settledKey, key)}
              onTry={() => setTried(key)}
            />
          ))}
          {ranked.length === 0 && <p className="px-2 py-1 text-ink-soft">No key was measured.</p>}
          {tried && (
            <>
              <h2 className="px-2 pt-2 text-tiny text-ink-soft">Close keys {keyLabel(tried)}</h2>
              {keyNeighbours(tried).map((key) => (
                <KeyRow
                  key={key.relation}
                  keyOf={key}
                  note={key.relation}
                  reasons={reasonsOf(key)}
                  tried={false}
                  settled={same(settledKey, key)}
                  onTry={() => setTried({ tonic: key.tonic, mode: key.mode })}
                />
              ))}
            </>
          )}
        </div>
      </div>
      <div className="shrink-0 space-y-2 border-t border-rule-strong bg-sheet p-2">
        <div className="flex flex-wrap items-center gap-x-2 gap-y-1 text-small">
          <label className="flex items-center gap-1">
            Try
            <KeySelect
              label="Key to try"
              className="w-28"
              value={tried}
              onChange={setTried}
              none={tried ? null : '–'}
            />
          </label>
          {tried &&
            scaleTriads(tried).map(({ numeral, notes: steps }) => (
              <Chord
                key={numeral}
                numeral={numeral}
                midis={steps.map((step) => tonicMidi(tried) + step)}
                held={notes.held}
                onPress={(midis) => midis.forEach(press)}
                onRelease={(midis) => midis.forEach(release)}
              />
            ))}
          <Button className="px-1.5" disabled={notes.held.size === 0} onClick={releaseAll}>
            Stop
          </Button>
          <span className="figures ml-auto text-tiny text-ink-soft">
            tuning {signedText(tuning, 0, 'cents')}
          </span>
          <Button className="px-1.5" onClick={midi.connect} title="Keyboards connected by MIDI">
            MIDI…
          </Button>
          <Button
            tone="strong"
            disabled={!tried || same(tried, settledKey)}
            onClick={() => tried && settleKey(tried)}
          >
            Use
          </Button>
          <Button onClick={() => settleKey({ none: true })}>No key</Button>
        </div>
        <Keyboard tried={tried} notes={notes} />
        <p className="text-tiny text-ink-soft">
          <KeyHint>A</KeyHint> … <KeyHint>K</KeyHint> play the scale of the key, <KeyHint>Q</KeyHint> …{' '}
          <KeyHint>U</KeyHint> hold its chords; Space plays the sample with them.
        </p>
      </div>
    </div>
  );
}

function rankedKeys(measurement: Bench['entry']['measurement']): { key: Key; sureness: number }[] {
  if (!measurement?.key) return [];
  return [measurement.key, ...measurement.key.alternatives].flatMap(({ tonic, mode, sureness }) => {
    const pitchClass = pitchClassOf(tonic);
    return pitchClass === null ? [] : [{ key: { tonic: pitchClass, mode }, sureness }];
  });
}

interface KeyRowProps {
  keyOf: Key;
  note: string;
  reasons: string;
  tried: boolean;
  settled: boolean;
  onTry: () => void;
}

function KeyRow({ keyOf, note, reasons, tried, settled, onTry }: KeyRowProps) {
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      aria-pressed={tried}
      onClick={onTry}
      className={clsx(
        'block w-full border-b border-rule px-2 py-1 text-left hover:bg-wash-ink',
        tried && 'bg-wash-ink',
      )}
    >
      <span className="flex">
        <b>{keyLabel(keyOf)}</b>
        {settled && <span className="ml-2 text-good">in use</span>}
        <span className="figures ml-auto text-ink-soft">{note}</span>
      </span>
      <span className="block text-tiny leading-snug text-ink-soft">{reasons}</span>
    </button>
  );
}

interface ChordProps {
  numeral: string;
  midis: number[];
  held: ReadonlySet<number>;
  onPress: (midis: number[]) => void;
  onRelease: (midis: number[]) => void;
}

/** A chord that is held until it is pressed again. */
function Chord({ numeral, midis, held, onPress, onRelease }: ChordProps) {
  const sounds = midis.every((midi) => held.has(midi));
  return (
    <Button
      className="w-9 px-0"
      pressed={sounds}
      aria-label={`Chord ${numeral}`}
      onClick={() => (sounds ? onRelease(midis) : onPress(midis))}
    >
      {numeral}
    </Button>
  );
}
