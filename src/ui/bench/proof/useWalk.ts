'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { VERDICTS } from '@/contract/entry';
import type { ProofPlace } from '@/core/rhythm/drift';
import { engine } from '../../audio/engine';
import { oneMovedTo, tempoTyped } from '../gridMoves';
import type { Bench } from '../useBench';
import type { Settling } from '../useSettling';
import type { View } from '../useView';

export type Verdict = (typeof VERDICTS)[number];

export interface HeardPlace {
  label: string;
  /** Null where somebody listened and has not said anything. */
  verdict: Verdict | null;
}

export interface Walk {
  /** The place that is being listened to, or null. */
  at: ProofPlace | null;
  /** The places that were heard with the present grid, and what was heard there. */
  heard: readonly HeardPlace[];
  /** Plays a place with the click, again and again. */
  listen: (place: ProofPlace) => void;
  /** Begins at the first place that nobody has said anything of yet. */
  begin: () => void;
  /** What was heard at the place: `on` goes on, the others nudge the grid and repeat. */
  answer: (verdict: Verdict) => void;
  end: () => void;
}

const firstUnsaid = (places: readonly ProofPlace[], heard: readonly HeardPlace[]) =>
  places.find(({ label }) => !heard.some((place) => place.label === label && place.verdict !== null));

/** The first nudge and the finest, ms: each change of direction halves it. */
const FIRST_NUDGE_MS = 8;
const FINEST_NUDGE_MS = 0.5;

/** The walk through the places of a proof. What was heard counts for the grid that it was heard with. */
export function useWalk(
  { entry, pinned }: Bench,
  places: readonly ProofPlace[],
  settling: Settling,
  show: View['show'],
): Walk {
  // A rating or a tag changes nothing of what was heard.
  const heardWith = JSON.stringify([entry.summary.sampleId, entry.settled.grid]);
  const [label, setLabel] = useState<string | null>(null);
  const [memory, setMemory] = useState<{ with: string; places: HeardPlace[] }>({ with: '', places: [] });
  const nudge = useRef({ ms: FIRST_NUDGE_MS, way: 0 });
  const heard = useMemo(() => (memory.with === heardWith ? memory.places : []), [memory, heardWith]);
  const at = places.find((place) => place.label === label) ?? null;

  const end = useCallback(() => {
    setLabel(null);
    engine.stop();
    engine.setSegments([]);
  }, []);
  useEffect(() => () => engine.setSegments([]), []);

  const play = useCallback(
    (place: ProofPlace) => {
      engine.setClick({ on: true });
      engine.setSegments([{ start: place.from, end: place.to, fades: true }]);
      const margin = (place.to - place.from) * 0.1;
      show(place.from - margin, place.to + margin);
      void engine.play(place.from, false);
      setLabel(place.label);
      nudge.current = { ms: FIRST_NUDGE_MS, way: 0 };
    },
    [show],
  );
  const remember = useCallback(
    ({ label }: ProofPlace, verdict: Verdict | null) => {
      const before = heard.find((place) => place.label === label);
      const others = heard.filter((place) => place !== before);
      const places = [...others, { label, verdict: verdict ?? before?.verdict ?? null }];
      setMemory({ with: heardWith, places });
      return places;
    },
    [heard, heardWith],
  );
  const listen = useCallback(
    (place: ProofPlace) => {
      play(place);
      remember(place, null);
    },
    [play, remember],
  );
  const begin = useCallback(() => {
    const next = firstUnsaid(places, heard) ?? places[0];
    if (next) play(next);
  }, [places, heard, play]);
  const answer = useCallback(
    (verdict: Verdict) => {
      if (!at || !pinned) return;
      if (verdict === 'on') {
        const next = firstUnsaid(places, remember(at, 'on'));
        if (next) play(next);
        else end();
        return;
      }
      // An early click must come later, and the other way round.
      const way = verdict === 'early' ? 1 : -1;
      const { ms, way: before } = nudge.current;
      const size = before !== 0 && before !== way ? Math.max(FINEST_NUDGE_MS, ms / 2) : ms;
      nudge.current = { ms: size, way };
      const { grid } = pinned;
      const seconds = (way * size) / 1000;
      const centre = (at.from + at.to) / 2;
      if (at.label === 'beginning' || grid.movingBeats || centre - grid.one < 1) {
        settling.settle(oneMovedTo(pinned, grid.one + seconds));
      } else {
        // About the one: at this place the line comes by that much later.
        const bpm = (grid.tempoBpm * (centre - grid.one)) / (centre - grid.one + seconds);
        settling.settle(tempoTyped(pinned, bpm, 0));
      }
    },
    [at, pinned, places, play, remember, end, settling],
  );
  return useMemo(() => ({ at, heard, listen, begin, answer, end }), [at, heard, listen, begin, answer, end]);
}
