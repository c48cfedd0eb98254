import type { Measurement } from '@/core/measurement/schema';
import { fetchHeard, keepHeard } from '../api/places';
import { engine } from '../audio/engine';
import { listenToStretch } from '../audio/listenToStretch';

/** What is known in this page, by what the engine calls the file. */
const known = new Map<string, Promise<Measurement | null>>();

/**
 * What is measured of a file that is not taken in. Where nobody measured it yet this page does, when it is first
 * heard, and the server remembers that by the file's content. Null where the file has no audio; rejects with a sentence.
 */
export function heardOf(
  audioId: string,
  { placeId, path }: { placeId: number; path: string },
): Promise<Measurement | null> {
  let found = known.get(audioId);
  if (!found) {
    found = fetchHeard(placeId, path).then(async (before) => {
      const made = before ?? (await measured(audioId));
      // What is not remembered is measured again.
      if (made && !before) keepHeard(placeId, path, made).catch(() => {});
      return made;
    });
    known.set(audioId, found);
    found.catch(() => known.delete(audioId));
  }
  return found;
}

async function measured(audioId: string): Promise<Measurement | null> {
  const audio = await engine.wholeOf(audioId);
  if (!audio) return null;
  return listenToStretch(audio, { from: 0, to: audio.durationSeconds }, {}, new AbortController().signal);
}
