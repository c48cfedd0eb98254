'use client';
import { toast } from 'sonner';
import { bpmText } from '@/words/figures';
import { barTime, beatPosition, feltBeatsPerBar } from '@/core/rhythm/grid';
import type { Pinned } from '@/core/rhythm/pins';
import { engine } from '../audio/engine';
import { useShortcuts } from '../kit/shortcuts';
import { tell } from '../kit/useAction';
import { GRID } from '../shortcuts/shortcutTables';
import { beatPinnedTo, oneMovedTo, oneOnBeat, tempoScaled, tempoTyped } from './gridMoves';
import { placeOfPlayhead } from './snapping';
import type { BenchModel } from './useBenchModel';

/** The keys of tempo, first downbeat, pins and the selection. */
export function useGridKeys(model: BenchModel): void {
  const { bench, taps, settling, snap, straighten, selected, select, onsets } = model;
  const { nudge, settle } = settling;
  const { shown, audio } = bench;
  const from = (run: (settled: Pinned) => void) => () => {
    try {
      if (shown) run(shown);
    } catch (error) {
      tell(error);
    }
  };
  const nudgeOne = (seconds: number) => from((s) => nudge(oneMovedTo(s, s.grid.one + seconds)));
  const nudgeTempo = (bpm: number) =>
    from((s) => {
      const next = Math.max(10, Math.min(1000, s.grid.tempoBpm + bpm));
      if (!s.grid.movingBeats) return nudge(tempoTyped(s, next, 0));
      // One tempo for a grid that has many: that is asked for, not done by the way.
      toast(
        `The grid is moving. One tempo of ${bpmText(next)} BPM would replace its ${s.grid.movingBeats.length} beats.`,
        { action: { label: 'Use one tempo', onClick: () => settle(tempoTyped(s, next, 0)) } },
      );
    });
  const sample = audio ? 1 / audio.sampleRate : 0;
  const here = () => placeOfPlayhead(bench, snap);
  const toHit = (way: 1 | -1) =>
    from((s) => {
      const times = onsets.map(({ time }) => time);
      const found =
        way > 0
          ? times.find((time) => time > s.grid.one + 0.001)
          : times.filter((time) => time < s.grid.one - 0.001).pop();
      if (found !== undefined) settle(oneMovedTo(s, found));
    });
  const selectEnd = (end: 'from' | 'to') => () => {
    const at = here();
    const other = selected?.[end === 'from' ? 'to' : 'from'] ?? (end === 'from' ? at + 1 : 0);
    select({ from: Math.min(at, other), to: Math.max(at, other) });
  };
  const pinBar = (s: Pinned) => {
    const size = feltBeatsPerBar(s.grid.meter);
    const bar = Math.max(1, Math.round(beatPosition(s.grid, engine.position()) / size) + 1);
    try {
      settle(beatPinnedTo(s, (bar - 1) * size, here()));
    } catch {
      toast.error(`Bar ${bar} (now at ${barTime(s.grid, bar).toFixed(2)} s) cannot be pinned there.`);
    }
  };
  useShortcuts(GRID, {
    tap: (event) => !event.repeat && taps.tap(event.timeStamp),
    oneHere: from((s) => settle(oneMovedTo(s, here()))),
    oneNextBeat: from((s) => settle(oneOnBeat(s, 1))),
    onePreviousBeat: from((s) => settle(oneOnBeat(s, -1))),
    oneNextHit: toHit(1),
    onePreviousHit: toHit(-1),
    earlier10: nudgeOne(-0.01),
    later10: nudgeOne(0.01),
    earlier1: nudgeOne(-0.001),
    later1: nudgeOne(0.001),
    earlier01: nudgeOne(-0.0001),
    later01: nudgeOne(0.0001),
    earlierSample: nudgeOne(-sample),
    laterSample: nudgeOne(sample),
    slower01: nudgeTempo(-0.1),
    faster01: nudgeTempo(0.1),
    slower001: nudgeTempo(-0.01),
    faster001: nudgeTempo(0.01),
    slower0001: nudgeTempo(-0.001),
    faster0001: nudgeTempo(0.001),
    half: from((s) => settle(tempoScaled(s, 0.5, 'half'))),
    double: from((s) => settle(tempoScaled(s, 2, 'double'))),
    straighten: () => straighten?.(),
    pin: from(pinBar),
    selectFrom: selectEnd('from'),
    selectTo: selectEnd('to'),
    clear: () => select(null),
  });
}
