import { shortKey } from '@/core/harmony/keyNames';
import type { Measurement } from '@/core/measurement/schema';
import type { Grid } from '@/core/rhythm/grid';
import type { SettledState } from '@/contract/settled';

/** What the open tags of a file say. */
export interface OpenTags {
  tempoBpm: number | null;
  /** As ID3v2 spells it: "C", "F#m", "Bbm"; "o" for material without a key. */
  key: string | null;
  comment: string;
}

interface Tagged {
  kind: Measurement['kind'] | null;
  grid: Grid | null;
  key: SettledState['key'];
  /** It has no pitch that a key could be said of. */
  isUnpitched: boolean;
  /** Of a one-shot: the mode of its chord; null where it is no chord, and has a root alone. */
  chord: 'major' | 'minor' | null;
  tags: SettledState['tags'];
  note: string;
}

/** The open tags of a file: its tempo, its key, and where bar 1 begins, with its own tags and note as a comment. */
export function openTagsOf({ kind, grid, key, isUnpitched, chord, tags, note }: Tagged): OpenTags {
  const meter = grid
    ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}, the one at ${grid.one.toFixed(4)} s`
    : '';
  return {
    tempoBpm: kind === 'oneshot' ? null : (grid?.tempoBpm ?? null),
    key: keyOf({ kind, key, isUnpitched, chord }),
    comment: [meter, tags.map(({ value }) => value).join(', '), note].filter(Boolean).join('; '),
  };
}

function keyOf({ kind, key, isUnpitched, chord }: Pick<Tagged, 'kind' | 'key' | 'isUnpitched' | 'chord'>) {
  if (!key) return null;
  if ('none' in key) return 'o';
  // A one-shot has a root; its mode is known where it is a chord.
  return isUnpitched ? null : shortKey(key, kind === 'oneshot' && chord !== key.mode);
}
