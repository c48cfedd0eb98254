import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { Measurement } from '@/core/measurement/schema';
import { fetchMeasured, keepMeasured } from '../api/places';
import { engine } from '../audio/engine';
import { listenToStretch } from '../audio/listenToStretch';

/** What is known in this page, by what the engine calls the file. */
const known = new Map<string, Promise<Measurement | null>>();
/** What of it has been found. */
const found = createStore<Readonly<Record<string, Measurement>>>(() => ({}));

/** What was measured of a file when it was heard; null before. */
export const useHeard = (audioId: string): Measurement | null =>
  useStore(found, (all) => all[audioId] ?? null);

/**
 * What is measured of a file that is not imported. Where nobody measured it yet this page does, when it is first
 * heard, and the server remembers that by the file's content. Null where the file has no audio; rejects with a sentence.
 */
export function heardOf(
  audioId: string,
  { placeId, path }: { placeId: number; path: string },
): Promise<Measurement | null> {
  let heard = known.get(audioId);
  if (!heard) {
    heard = fetchMeasured(placeId, path).then(async (before) => {
      const made = before ?? (await measured(audioId));
      // What is not remembered is measured again.
      if (made && !before) keepMeasured(placeId, path, made).catch(() => {});
      if (made) found.setState({ [audioId]: made });
      return made;
    });
    known.set(audioId, heard);
    heard.catch(() => known.delete(audioId));
  }
  return heard;
}

async function measured(audioId: string): Promise<Measurement | null> {
  const audio = await engine.wholeOf(audioId);
  if (!audio) return null;
  return listenToStretch(audio, { from: 0, to: audio.durationSeconds }, {}, new AbortController().signal);
}
