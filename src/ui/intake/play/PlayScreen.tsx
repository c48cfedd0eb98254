'use client';
import { Circle, Keyboard as KeyboardIcon, Square } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { recordedMidi } from '@/core/formats/midiRecording';
import type { Key } from '@/core/harmony/keyNames';
import { Recorder, type Recorded } from '../../audio/recorder';
import { Keyboard } from '../../keyboard/Keyboard';
import { useHeldNotes } from '../../keyboard/useHeldNotes';
import { useScaleKeys } from '../../keyboard/useScaleKeys';
import { useMidi } from '../../keyboard/useMidi';
import { simulatedKeyboard } from '../../audio/midi';
import { sustained } from '../../audio/sustained';
import { Button } from '../../kit/Button';
import { lengthText } from '@/words/figures';
import { KeySelect } from '../../kit/KeySelect';
import { uploads } from '../uploads';
import { PlayedRoll } from './PlayedRoll';
import { useShortcuts } from '../../kit/shortcuts';
import { RECORD } from '../../shortcuts/shortcutTables';

const FOLDER = 'Recorded MIDI';
/** The roll is drawn again so often while something is played, ms. */
const DRAWN_EVERY = 60;
const C_MAJOR: Key = { tonic: 0, mode: 'major' };
const NOTHING: Recorded = { notes: [], controls: [], seconds: 0 };

/** Playing in: what a keyboard plays without a click becomes a performance in the Intake, measured like every other. */
export function PlayScreen() {
  const midi = useMidi();
  const held = useHeldNotes(0);
  const [scale, setScale] = useState<Key>(C_MAJOR);
  const recorder = useRef<Recorder | null>(null);
  const [isRecording, setRecording] = useState(false);
  const [played, setPlayed] = useState<Recorded>(NOTHING);
  useScaleKeys(scale);
  const { press, release } = held;
  useEffect(() => {
    const sound = sustained(press, release);
    return midi.listen((message) => {
      recorder.current?.hear(message);
      sound(message);
    });
  }, [midi, press, release]);
  useEffect(() => {
    if (!isRecording) return;
    const timer = setInterval(
      () => recorder.current && setPlayed(recorder.current.now(performance.now())),
      DRAWN_EVERY,
    );
    return () => clearInterval(timer);
  }, [isRecording]);

  const begin = useCallback(() => {
    recorder.current = new Recorder();
    setPlayed(NOTHING);
    setRecording(true);
  }, []);
  const end = useCallback(() => {
    const recorded = recorder.current?.now(performance.now()) ?? NOTHING;
    recorder.current = null;
    setRecording(false);
    setPlayed(recorded);
    if (recorded.notes.length === 0) return void toast('Nothing was played, so nothing was saved.');
    const name = `Recorded ${new Date().toISOString().slice(0, 19).replace('T', ' ').replaceAll(':', '-')}.mid`;
    const file = new File([recordedMidi(recorded.notes, FINE_TICKS, recorded.controls) as BlobPart], name, {
      type: 'audio/midi',
      lastModified: Date.now(),
    });
    void uploads.add([{ file, folder: FOLDER }]);
    toast(`“${name}” is in the Intake.`);
  }, []);
  // What is being played when the screen is left is not deleted.
  const leave = useRef(() => {});
  useEffect(() => {
    leave.current = () => {
      if (recorder.current) end();
    };
  }, [end]);
  useEffect(() => () => leave.current(), []);
  useShortcuts(RECORD, { record: () => (isRecording ? end() : begin()) });

  return (
    <div className="mx-auto flex h-full max-w-4xl flex-col gap-4 p-6">
      <div className="flex items-end gap-4">
        <Button tone="strong" className="h-11 w-36" onClick={isRecording ? end : begin}>
          {isRecording ? (
            <Square className="size-4" aria-hidden />
          ) : (
            <Circle className="size-4 fill-one stroke-one" aria-hidden />
          )}
          {isRecording ? 'Stop and save' : 'Record'}
        </Button>
        <span role="status" className="figures text-lg" data-testid="played">
          {played.notes.length} notes, {lengthText(played.seconds)}
        </span>
        <span className="ml-auto" />
        <KeySelect
          label="play with the computer’s keys"
          place="above"
          value={scale}
          none={null}
          onChange={(next) => next && setScale(next)}
        />
        <Button onClick={midi.connect}>
          <KeyboardIcon className="size-4" aria-hidden /> MIDI keyboards…
        </Button>
      </div>
      <div className="min-h-40 flex-1 border border-rule-strong bg-sheet">
        <PlayedRoll played={played} />
      </div>
      <Keyboard
        tried={scale}
        notes={{
          ...held,
          press: (note) => simulatedKeyboard.press(note),
          release: (note) => simulatedKeyboard.release(note),
        }}
      />
      <p className="text-small text-ink-soft">
        Play freely, without a click: tempo, bars and key are measured from your performance. Use a MIDI
        keyboard, or the keys A to K for the selected scale and Q to U for its chords. Space starts and stops.
        On the Bench you can quantize a copy.
      </p>
    </div>
  );
}

/** Ticks of a quarter: a twentieth of a millisecond each. */
const FINE_TICKS = 10_000;
