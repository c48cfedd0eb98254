'use client';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { toast } from 'sonner';
import { barTime, beatPosition, beatTime, feltBeatsPerBar, steadyAt } from '@/core/rhythm/grid';
import { api } from '../api/client';
import { player } from '../audio/player';
import { neighbours } from '../intake/workingList';
import { bpmText } from '../pieces/figures';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { barPulledTo, oneMovedTo, tempoScaled, type GridMove } from './gridMoves';
import { LOOP_CHOICES } from './Transport';
import type { Bench } from './useBench';
import type { Taps } from './useTaps';
import type { View } from './useView';

interface Hands {
  bench: Bench | null;
  view: View;
  taps: Taps;
  /** Moves that belong to one gesture and are settled together when it ends. */
  nudge: (move: GridMove) => void;
  settle: (move: GridMove) => void;
  loopBars: number;
  setLoopBars: (bars: number) => void;
}

/** Every gesture of the Bench on the keyboard. */
export function useBenchKeys({ bench, view, taps, nudge, settle, loopBars, setLoopBars }: Hands) {
  const router = useRouter();
  useKeys(
    useMemo<KeyAction[]>(() => {
      if (!bench) return [];
      const { grid, entry } = bench;
      const { sampleId } = entry.summary;
      const withGrid = (run: (g: NonNullable<typeof grid>) => void) => () => grid && run(grid);
      const nudgeOne = (seconds: number) => withGrid((g) => nudge(oneMovedTo(g, g.one + seconds)));
      const nudgeTempo = (bpm: number) =>
        withGrid((g) => {
          const tempoBpm = Math.max(10, Math.min(1000, g.tempoBpm + bpm));
          nudge({
            grid: steadyAt(g, tempoBpm),
            words: `${bpmText(tempoBpm)} BPM`,
            reading: {
              property: 'tempo',
              value: tempoBpm,
              source: 'typed',
              sureness: 0.95,
              detail: 'nudged on the Bench',
            },
          });
        });
      const step = (beats: number) => () => {
        const now = player.position();
        player.seek(grid ? beatTime(grid, Math.round(beatPosition(grid, now) + beats)) : now + beats * 0.5);
      };
      const go = (to: 'previous' | 'next') => () => {
        const target = neighbours(sampleId)[to];
        if (target) router.push(`/bench/${target.sampleId}`);
      };
      const middle = () => {
        const now = player.position();
        return now >= view.from && now <= view.to ? now : (view.from + view.to) / 2;
      };
      return [
        {
          keys: 'Space',
          does: 'Play, or stop',
          group: 'Hearing',
          matches: key('Space'),
          run: () => player.toggle(),
        },
        {
          keys: 'Enter',
          does: 'Play from the one',
          group: 'Hearing',
          matches: key('Enter'),
          run: withGrid((g) => void player.play(g.one)),
        },
        {
          keys: 'C',
          does: 'Click on or off',
          group: 'Hearing',
          matches: character('c'),
          run: () => player.setClick({ on: !player.getState().click.on }),
        },
        {
          keys: 'R',
          does: 'Go round: the next number of bars',
          group: 'Hearing',
          matches: character('r'),
          run: () => setLoopBars(LOOP_CHOICES[(LOOP_CHOICES.indexOf(loopBars) + 1) % LOOP_CHOICES.length]),
        },
        {
          keys: '← / →',
          does: 'Playhead one beat back or on',
          group: 'Hearing',
          matches: key('ArrowRight'),
          run: step(1),
        },
        {
          keys: '←',
          does: 'Playhead one beat back',
          group: 'Hearing',
          matches: key('ArrowLeft'),
          run: step(-1),
        },
        {
          keys: 'T',
          does: 'Tap the beat',
          group: 'Settling',
          matches: character('t'),
          run: (event) => !event.repeat && taps.tap(event.timeStamp),
        },
        {
          keys: 'O',
          does: 'The one is at the playhead',
          group: 'Settling',
          matches: character('o'),
          run: withGrid((g) => settle(oneMovedTo(g, player.position()))),
        },
        {
          keys: ',',
          does: 'The one 10 ms earlier',
          group: 'Settling',
          matches: key('Comma'),
          run: nudgeOne(-0.01),
        },
        {
          keys: '.',
          does: 'The one 10 ms later',
          group: 'Settling',
          matches: key('Period'),
          run: nudgeOne(0.01),
        },
        {
          keys: 'Shift + ,',
          does: '… 1 ms earlier',
          group: 'Settling',
          matches: key('Shift+Comma'),
          run: nudgeOne(-0.001),
        },
        {
          keys: 'Shift + .',
          does: '… 1 ms later',
          group: 'Settling',
          matches: key('Shift+Period'),
          run: nudgeOne(0.001),
        },
        {
          keys: '−',
          does: 'Tempo 0.1 BPM down',
          group: 'Settling',
          matches: key('Minus'),
          run: nudgeTempo(-0.1),
        },
        {
          keys: '=',
          does: 'Tempo 0.1 BPM up',
          group: 'Settling',
          matches: key('Equal'),
          run: nudgeTempo(0.1),
        },
        {
          keys: 'Shift + −',
          does: '… 0.01 BPM down',
          group: 'Settling',
          matches: key('Shift+Minus'),
          run: nudgeTempo(-0.01),
        },
        {
          keys: 'Shift + =',
          does: '… 0.01 BPM up',
          group: 'Settling',
          matches: key('Shift+Equal'),
          run: nudgeTempo(0.01),
        },
        {
          keys: 'H',
          does: 'Half the tempo',
          group: 'Settling',
          matches: character('h'),
          run: withGrid((g) => settle(tempoScaled(g, 0.5, 'half'))),
        },
        {
          keys: 'D',
          does: 'Double the tempo',
          group: 'Settling',
          matches: character('d'),
          run: withGrid((g) => settle(tempoScaled(g, 2, 'double'))),
        },
        {
          keys: 'L',
          does: 'The nearest bar line is at the playhead',
          group: 'Settling',
          matches: character('l'),
          run: withGrid((g) => {
            const now = player.position();
            const bar = Math.round(beatPosition(g, now) / feltBeatsPerBar(g.meter)) + 1;
            try {
              settle(bar <= 1 ? oneMovedTo(g, now) : barPulledTo(g, bar, now));
            } catch {
              toast.error(`Bar ${bar} (now at ${barTime(g, bar).toFixed(2)} s) cannot stand there.`);
            }
          }),
        },
        { keys: 'Ctrl + Z', does: 'Undo', group: 'Settling', matches: key('Ctrl+KeyZ'), run: bench.undo },
        {
          keys: 'Ctrl + Shift + Z',
          does: 'Redo',
          group: 'Settling',
          matches: key('Ctrl+Shift+KeyZ'),
          run: bench.redo,
        },
        {
          keys: '↑',
          does: 'Closer',
          group: 'Seeing',
          matches: key('ArrowUp'),
          run: () => view.zoom(0.6, middle()),
        },
        {
          keys: '↓',
          does: 'Further away',
          group: 'Seeing',
          matches: key('ArrowDown'),
          run: () => view.zoom(1 / 0.6, middle()),
        },
        {
          keys: 'Home',
          does: 'Show the one',
          group: 'Seeing',
          matches: key('Home'),
          run: withGrid((g) =>
            view.show(g.one - (view.to - view.from) * 0.1, g.one + (view.to - view.from) * 0.9),
          ),
        },
        {
          keys: 'End',
          does: 'Show the end',
          group: 'Seeing',
          matches: key('End'),
          run: () =>
            view.show(
              (entry.summary.durationSeconds ?? 0) - (view.to - view.from),
              entry.summary.durationSeconds ?? 0,
            ),
        },
        {
          keys: 'W',
          does: 'Show the whole file',
          group: 'Seeing',
          matches: character('w'),
          run: () => view.show(0, entry.summary.durationSeconds ?? 0),
        },
        {
          keys: 'Page Down',
          does: 'Next sample of the list',
          group: 'Seeing',
          matches: key('PageDown'),
          run: go('next'),
        },
        {
          keys: 'Page Up',
          does: 'Previous sample of the list',
          group: 'Seeing',
          matches: key('PageUp'),
          run: go('previous'),
        },
        {
          keys: 'Ctrl + S',
          does: 'Save to the Shelf',
          group: 'Saving',
          matches: key('Ctrl+KeyS'),
          run: () => void bench.run(() => api.setSaved(sampleId, true), 'Saved to the Shelf.'),
        },
      ];
    }, [bench, view, taps, nudge, settle, loopBars, setLoopBars, router]),
  );
}
