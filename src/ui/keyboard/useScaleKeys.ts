'use client';
import { useEffect, useRef } from 'react';
import type { Key } from '@/core/harmony/keyNames';
import { scaleSteps, scaleTriads } from '@/core/harmony/scale';
import { simulatedKeyboard } from '../audio/midi';
import { isTyping, useShownShortcuts } from '../kit/shortcuts';
import { SCALE } from '../shortcuts/shortcutTables';

const DEGREES = ['KeyA', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyH', 'KeyJ', 'KeyK'];
const CHORDS = ['KeyQ', 'KeyW', 'KeyE', 'KeyR', 'KeyT', 'KeyY', 'KeyU'];

/** The tonic's note between C3 and B3. */
export function tonicMidi({ tonic }: Key): number {
  return 48 + tonic;
}

/**
 * The computer's keys as a keyboard of the tried key alone: the middle row plays its scale, the row above
 * holds its triads. They go through the simulated keyboard, and ahead of the Bench's own letters.
 */
export function useScaleKeys(tried: Key | null) {
  const sounding = useRef(new Map<string, number[]>());
  useEffect(() => {
    if (!tried) return;
    const held = sounding.current;
    const root = tonicMidi(tried);
    const steps = [...scaleSteps(tried), 12];
    const triads = scaleTriads(tried);
    const notesOf = (code: string): number[] | null => {
      const degree = DEGREES.indexOf(code);
      if (degree >= 0) return [root + 12 + steps[degree]];
      const chord = CHORDS.indexOf(code);
      return chord >= 0 ? triads[chord].notes.map((note) => root + note) : null;
    };
    const letGo = (code: string) => {
      held.get(code)?.forEach((note) => simulatedKeyboard.release(note));
      held.delete(code);
    };
    const down = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
      const notes = notesOf(event.code);
      if (!notes) return;
      event.preventDefault();
      if (event.repeat || held.has(event.code)) return;
      held.set(event.code, notes);
      notes.forEach((note) => simulatedKeyboard.press(note, event.timeStamp));
    };
    const up = (event: KeyboardEvent) => letGo(event.code);
    const blur = () => [...held.keys()].forEach(letGo);
    window.addEventListener('keydown', down, true);
    window.addEventListener('keyup', up, true);
    window.addEventListener('blur', blur);
    return () => {
      blur();
      window.removeEventListener('keydown', down, true);
      window.removeEventListener('keyup', up, true);
      window.removeEventListener('blur', blur);
    };
  }, [tried]);
  useShownShortcuts(SCALE);
}
