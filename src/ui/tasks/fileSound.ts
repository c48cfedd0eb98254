'use client';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { toast } from 'sonner';
import { originalUrl } from '../api/samples';
import { engine } from '../audio/engine';

/** Files that are heard as they were written, beside whatever sample a screen works with. */
const playing = createStore<{ sampleId: string | null }>(() => ({ sampleId: null }));
let audio: HTMLAudioElement | null = null;

const say = (sampleId: string | null) => playing.setState({ sampleId });

/** Plays the file of a sample, or stops it. */
export function toggleFile({ sampleId, name }: { sampleId: string; name: string }): void {
  const isOn = playing.getState().sampleId === sampleId;
  audio?.pause();
  audio = null;
  say(null);
  if (isOn) return;
  engine.stop();
  audio = new Audio(originalUrl(sampleId));
  const mine = audio;
  mine.onended = () => mine === audio && say(null);
  say(sampleId);
  // What a screen plays ends it.
  const leave = engine.subscribe(() => {
    if (mine !== audio) return leave();
    if (engine.getState().status === 'playing') stopFile();
  });
  mine.play().catch(() => {
    // Paused before it began.
    if (mine !== audio) return;
    say(null);
    toast.error(`“${name}” cannot be played here. Open it on the Bench.`);
  });
}

/** Stops the file that is playing. */
export function stopFile(): void {
  audio?.pause();
  audio = null;
  say(null);
}

export const useIsFilePlaying = (sampleId: string | undefined): boolean =>
  useStore(playing, (now) => sampleId !== undefined && now.sampleId === sampleId);
