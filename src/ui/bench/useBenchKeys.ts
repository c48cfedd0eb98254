'use client';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { toast } from 'sonner';
import { barTime, beatPosition, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Pinned } from '@/core/rhythm/pins';
import { engine } from '../audio/engine';
import { speedAfter } from '../audio/engineState';
import { usePutIntoBlend } from '../blend/putIntoBlend';
import { usePutIntoPack } from '../packs/putIntoPack';
import { bpmText } from '../pieces/figures';
import { neighbours } from '../pieces/workingList';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { beatPinnedTo, oneMovedTo, oneOnBeat, tempoScaled, tempoTyped } from './gridMoves';
import { placeOfPlayhead, type Snap } from './snapping';
import { LOOP_CHOICES } from './Transport';
import { save } from './saving';
import type { Bench } from './useBench';
import type { Rounds } from './useRound';
import type { Settling } from './useSettling';
import type { Taps } from './useTaps';
import type { View } from './useView';
import { MAIN_VIEWS, type MainView } from './ViewBar';

interface Hands {
  bench: Bench;
  view: View;
  taps: Taps;
  settling: Settling;
  rounds: Rounds;
  mainView: MainView;
  setMainView: (view: MainView) => void;
  snap: Snap;
  /** Makes rows of the fold taller (1) or lower (−1). */
  stepRows: (way: 1 | -1) => void;
  setUpright: (() => void) | null;
  stretch: { from: number; to: number } | null;
  setStretch: (stretch: { from: number; to: number } | null) => void;
  compare: () => void;
  /** What is taken back and done again: of the draft of a cut where that is in sight, of what is settled else. */
  undo: () => void;
  redo: () => void;
}

/** Keys as printed, what they do, how they are told, what happens. */
type Line = [string, string, KeyAction['matches'], (event: KeyboardEvent) => void];

const group = (name: string, lines: Line[]): KeyAction[] =>
  lines.map(([keys, does, matches, run]) => ({ keys, does, group: name, matches, run }));

/** Every gesture of the Bench on the keyboard. */
export function useBenchKeys(hands: Hands) {
  const router = useRouter();
  const put = usePutIntoBlend();
  const intoPack = usePutIntoPack();
  const actions = useMemo(
    () => [
      ...hearing(hands),
      ...settling(hands),
      ...seeing(hands),
      ...leaving(hands, (to) => router.push(to), put, intoPack),
    ],
    [hands, router, put, intoPack],
  );
  useKeys(actions);
}

function hearing({ bench: { grid }, rounds, compare }: Hands): KeyAction[] {
  const step = (beats: number) => () => {
    const now = engine.position();
    engine.seek(grid ? beatTime(grid, Math.round(beatPosition(grid, now) + beats)) : now + beats * 0.5);
  };
  const bars = rounds.round?.kind === 'bars' ? rounds.round.bars : 0;
  const lastBars = () => {
    if (!grid || !rounds.loop) return;
    void engine.play(Math.max(0, rounds.loop.end - (4 * feltBeatsPerBar(grid.meter) * 60) / grid.tempoBpm));
  };
  return group('Hearing', [
    ['Space', 'Play, or stop', key('Space'), () => engine.toggle()],
    ['Enter', 'Play from the one', key('Enter'), () => grid && void engine.play(grid.one)],
    ['Shift + Enter', 'Play the last four bars', key('Shift+Enter'), lastBars],
    ['C', 'Click on or off', character('c'), () => engine.setClick({ on: !engine.getState().click.on })],
    ['Z (held)', 'Click only', key('KeyZ'), (event) => engine.soloWhileHeld('click', event)],
    ['X (held)', 'Audio only', key('KeyX'), (event) => engine.soloWhileHeld('audio', event)],
    [
      'R',
      'Go round: the next number of bars',
      key('KeyR'),
      () => rounds.goRound(LOOP_CHOICES[(LOOP_CHOICES.indexOf(bars) + 1) % LOOP_CHOICES.length]),
    ],
    [
      'Shift + R',
      'Go round: the loop of the sample, or straight on',
      key('Shift+KeyR'),
      () => rounds.setRound(rounds.round?.kind === 'loop' ? null : { kind: 'loop' }),
    ],
    [
      'S',
      'Slower: half, three quarters, full',
      key('KeyS'),
      () => engine.setSpeed(speedAfter(engine.getState().speed)),
    ],
    ['B', 'Hear the other grid, and back', key('KeyB'), compare],
    ['→', 'Playhead one beat on', key('ArrowRight'), step(1)],
    ['←', 'Playhead one beat back', key('ArrowLeft'), step(-1)],
  ]);
}

function settling({
  bench,
  taps,
  settling: { nudge, settle },
  snap,
  setUpright,
  stretch,
  setStretch,
  undo,
  redo,
}: Hands) {
  const { shown, audio } = bench;
  const onsets = bench.entry.measurement?.onsets ?? [];
  const from = (run: (settled: Pinned) => void) => () => {
    try {
      if (shown) run(shown);
    } catch (error) {
      toast.error((error as Error).message);
    }
  };
  const nudgeOne = (seconds: number) => from((s) => nudge(oneMovedTo(s, s.grid.one + seconds)));
  const nudgeTempo = (bpm: number) =>
    from((s) => {
      const next = Math.max(10, Math.min(1000, s.grid.tempoBpm + bpm));
      if (!s.grid.movingBeats) return nudge(tempoTyped(s, next, 0));
      // One tempo for a grid that has many: that is asked for, not done by the way.
      toast(
        `The grid moves. At one tempo of ${bpmText(next)} BPM it would be steady, and its ${s.grid.movingBeats.length} beats gone.`,
        {
          action: { label: 'Make it steady', onClick: () => settle(tempoTyped(s, next, 0)) },
        },
      );
    });
  const sample = audio ? 1 / audio.sampleRate : 0;
  const here = () => placeOfPlayhead(bench, snap);
  const nextOnset = (way: 1 | -1) =>
    from((s) => {
      const times = onsets.map(({ time }) => time);
      const found =
        way > 0
          ? times.find((time) => time > s.grid.one + 0.001)
          : times.filter((time) => time < s.grid.one - 0.001).pop();
      if (found !== undefined) settle(oneMovedTo(s, found));
    });
  const markStretch = (end: 'from' | 'to') => () => {
    const at = here();
    const other = stretch?.[end === 'from' ? 'to' : 'from'] ?? (end === 'from' ? at + 1 : 0);
    setStretch({ from: Math.min(at, other), to: Math.max(at, other) });
  };
  return group('Settling', [
    ['T', 'Tap the beat', character('t'), (event) => void (!event.repeat && taps.tap(event.timeStamp))],
    [
      'O',
      'The one is at the playhead, on its hit when that snaps',
      character('o'),
      from((s) => settle(oneMovedTo(s, here()))),
    ],
    ['Alt + →', 'The one is the next beat', key('Alt+ArrowRight'), from((s) => settle(oneOnBeat(s, 1)))],
    ['Alt + ←', 'The one is the beat before', key('Alt+ArrowLeft'), from((s) => settle(oneOnBeat(s, -1)))],
    ['Alt + ↓', 'The one is the next hit', key('Alt+ArrowDown'), nextOnset(1)],
    ['Alt + ↑', 'The one is the hit before', key('Alt+ArrowUp'), nextOnset(-1)],
    [',', 'The one 10 ms earlier', key('Comma'), nudgeOne(-0.01)],
    ['.', 'The one 10 ms later', key('Period'), nudgeOne(0.01)],
    ['Shift + ,', '… 1 ms earlier', key('Shift+Comma'), nudgeOne(-0.001)],
    ['Shift + .', '… 1 ms later', key('Shift+Period'), nudgeOne(0.001)],
    ['Alt + ,', '… 0.1 ms earlier', key('Alt+Comma'), nudgeOne(-0.0001)],
    ['Alt + .', '… 0.1 ms later', key('Alt+Period'), nudgeOne(0.0001)],
    ['Ctrl + ,', '… one sample earlier', key('Ctrl+Comma'), nudgeOne(-sample)],
    ['Ctrl + .', '… one sample later', key('Ctrl+Period'), nudgeOne(sample)],
    ['−', 'Tempo 0.1 BPM down', key('Minus'), nudgeTempo(-0.1)],
    ['=', 'Tempo 0.1 BPM up', key('Equal'), nudgeTempo(0.1)],
    ['Shift + −', '… 0.01 BPM down', key('Shift+Minus'), nudgeTempo(-0.01)],
    ['Shift + =', '… 0.01 BPM up', key('Shift+Equal'), nudgeTempo(0.01)],
    ['Alt + −', '… 0.001 BPM down', key('Alt+Minus'), nudgeTempo(-0.001)],
    ['Alt + =', '… 0.001 BPM up', key('Alt+Equal'), nudgeTempo(0.001)],
    ['H', 'Half the tempo', character('h'), from((s) => settle(tempoScaled(s, 0.5, 'half')))],
    ['D', 'Double the tempo', character('d'), from((s) => settle(tempoScaled(s, 2, 'double')))],
    ['U', 'Set the fold upright', character('u'), () => setUpright?.()],
    [
      'L',
      'Pin the nearest bar line at the playhead',
      character('l'),
      from((s) => {
        const now = engine.position();
        const size = feltBeatsPerBar(s.grid.meter);
        const bar = Math.max(1, Math.round(beatPosition(s.grid, now) / size) + 1);
        try {
          settle(beatPinnedTo(s, (bar - 1) * size, here()));
        } catch {
          toast.error(`Bar ${bar} (now at ${barTime(s.grid, bar).toFixed(2)} s) cannot stand there.`);
        }
      }),
    ],
    ['[', 'A stretch begins at the playhead', key('BracketLeft'), markStretch('from')],
    [']', 'The stretch ends at the playhead', key('BracketRight'), markStretch('to')],
    ['Escape', 'No stretch', key('Escape'), () => setStretch(null)],
    ['Ctrl + Z', 'Undo', key('Ctrl+KeyZ'), undo],
    ['Ctrl + Shift + Z', 'Redo', key('Ctrl+Shift+KeyZ'), redo],
  ]);
}

function seeing({ bench: { grid, entry }, view, mainView, setMainView, stepRows }: Hands): KeyAction[] {
  const duration = entry.summary.durationSeconds ?? 0;
  const seconds = view.to - view.from;
  const middle = () => {
    const now = engine.position();
    return now >= view.from && now <= view.to ? now : (view.from + view.to) / 2;
  };
  const closer = (way: 1 | -1) => () =>
    mainView === 'fold' ? stepRows(way) : view.zoom(way > 0 ? 0.6 : 1 / 0.6, middle());
  return group('Seeing', [
    ...MAIN_VIEWS.map((name, i): Line => [
      String(i + 1),
      `The ${name}`,
      key(`Digit${i + 1}`),
      () => setMainView(name),
    ]),
    ['↑', 'Closer; taller rows', key('ArrowUp'), closer(1)],
    ['↓', 'Further away; lower rows', key('ArrowDown'), closer(-1)],
    [
      'Home',
      'Show the one',
      key('Home'),
      () => grid && view.show(grid.one - seconds * 0.1, grid.one + seconds * 0.9),
    ],
    ['End', 'Show the end', key('End'), () => view.show(duration - seconds, duration)],
    ['W', 'Show the whole file', character('w'), () => view.show(0, duration)],
  ]);
}

function leaving(
  { bench }: Hands,
  open: (path: string) => void,
  put: ReturnType<typeof usePutIntoBlend>,
  intoPack: ReturnType<typeof usePutIntoPack>,
): KeyAction[] {
  const { sampleId } = bench.entry.summary;
  const go = (to: 'previous' | 'next') => () => {
    const target = neighbours(sampleId)[to];
    if (target) open(`/bench/${target.sampleId}`);
  };
  return [
    ...group('Seeing', [
      ['Page Down', 'Next sample of the list', key('PageDown'), go('next')],
      ['Page Up', 'Previous sample of the list', key('PageUp'), go('previous')],
    ]),
    ...group('Saving', [
      ['Ctrl + S', 'Save to the Shelf', key('Ctrl+KeyS'), () => save(bench)],
      ['Shift + P', 'Put it into the Blend', key('Shift+KeyP'), () => put([bench.entry.summary])],
      [
        'Shift + K',
        'Put it into the pack',
        key('Shift+KeyK'),
        () => intoPack([bench.entry.summary.sampleId]),
      ],
    ]),
  ];
}
