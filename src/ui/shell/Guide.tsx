'use client';
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import { createStore } from 'zustand/vanilla';
import { fetchIntake } from '../api/intake';
import { Button } from '../kit/Button';
import { KeyHint } from '../kit/KeyHint';

/** Where somebody is in the guide: a step, or that it was left. Kept in the browser. */
const KEPT = 'grento-guide';
const LEFT = 'left';
const changes = createStore(() => 0);
const kept = () => localStorage.getItem(KEPT);
const keep = (value: string) => {
  localStorage.setItem(KEPT, value);
  changes.setState((count) => count + 1, true);
};

/** Begins the guide again, from wherever it is asked for. */
export const beginGuide = () => keep('0');

/** The demo library's song whose name says the double of its tempo: what the guide leads to. */
const SONG = 'Trapdoor 164';

const STEPS: { title: string; words: ReactNode; at: 'intake' | 'song' | 'shelf' }[] = [
  {
    title: 'New samples',
    at: 'intake',
    words: (
      <>
        Uncertain samples come first, each with its reason. Move with <KeyHint>↓</KeyHint>, play with the
        click with <KeyHint>C</KeyHint>, accept with <KeyHint>A</KeyHint>.
      </>
    ),
  },
  {
    title: 'Half or double?',
    at: 'song',
    words: (
      <>
        Open “{SONG}” on the Bench. Its name says 164. <KeyHint>Space</KeyHint> plays it with the click,{' '}
        <KeyHint>H</KeyHint> halves, <KeyHint>D</KeyHint> doubles.
      </>
    ),
  },
  {
    title: 'The fold',
    at: 'song',
    words: (
      <>
        Each row is one bar. Drag a lower row until the columns are straight to correct the tempo. Drag the
        first row to correct the first downbeat (the one). <KeyHint>U</KeyHint> does both.
      </>
    ),
  },
  {
    title: 'The proof',
    at: 'song',
    words: (
      <>
        Under Proof, <KeyHint>G</KeyHint> steps from place to place, each looped with the click. Press{' '}
        <KeyHint>Y</KeyHint> when the click is on time, then sign and save.
      </>
    ),
  },
  {
    title: 'Reuse',
    at: 'shelf',
    words: (
      <>
        On the Shelf, set a target tempo and key and move through the list: every sample plays in time and in
        tune. No file is changed.
      </>
    ),
  },
];

/** A way through the demo library in five steps, shown where that library is and nobody has left the guide yet. */
export function Guide() {
  const value = useSyncExternalStore(changes.subscribe, kept, () => LEFT);
  const [hasBegun] = useState(() => value !== null);
  const { data } = useQuery({
    queryKey: ['guide'],
    queryFn: ({ signal }) => fetchIntake(new URLSearchParams({ text: SONG, limit: '1' }), signal),
    enabled: value !== LEFT,
    staleTime: Infinity,
  });
  const song = data?.rows[0];
  if (value === LEFT || (!song && !hasBegun)) return null;
  const step = Math.min(STEPS.length - 1, Math.max(0, Number(value ?? 0) || 0));
  const { title, words, at } = STEPS[step];
  const address =
    at === 'intake' ? '/intake' : at === 'shelf' ? '/shelf' : song ? `/bench/${song.sampleId}` : null;
  const isLast = step === STEPS.length - 1;
  return (
    <aside
      aria-label="Guide"
      className="flex shrink-0 items-center gap-3 border-b border-rule-strong bg-wash-ink px-4 py-1.5 text-small print:hidden"
    >
      <h2 className="shrink-0 font-semibold">
        <span className="figures mr-2 text-tiny font-normal text-ink-soft">
          {step + 1} of {STEPS.length}
        </span>
        {title}
      </h2>
      <p className="min-w-0 flex-1">{words}</p>
      <div className="flex shrink-0 items-center gap-1.5">
        {address && (
          <Link href={address} className="mr-2 underline underline-offset-2">
            Go there
          </Link>
        )}
        {step > 0 && <Button onClick={() => keep(String(step - 1))}>Back</Button>}
        {!isLast && (
          <Button tone="strong" onClick={() => keep(String(step + 1))}>
            Next
          </Button>
        )}
        <Button tone={isLast ? 'strong' : 'quiet'} onClick={() => keep(LEFT)}>
          {isLast ? 'Done' : 'Close'}
        </Button>
      </div>
    </aside>
  );
}
