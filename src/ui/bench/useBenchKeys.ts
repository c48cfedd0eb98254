'use client';
import { useRouter } from 'next/navigation';
import { beatPosition, beatTime, feltBeatsPerBar } from '@/core/rhythm/grid';
import { engine } from '../audio/engine';
import { speedAfter } from '../audio/engineState';
import { usePutIntoBlend } from '../blend/putIntoBlend';
import { useShortcuts } from '../kit/shortcuts';
import { neighbours } from '../list/workingList';
import { usePutIntoPack } from '../packs/putIntoPack';
import { PLAYBACK, PROOF, SAVING, STEPS, VIEW } from '../shortcuts/shortcutTables';
import { useTakesInHand } from '../target/sampleInHand';
import { atTarget, useAim } from '../target/useAim';
import { TAG_FIELD } from '../tags/TagsCard';
import { focusWhenShown } from '../kit/focusWhenShown';
import { beginProof } from './proof/beginProof';
import { save } from './saving';
import { LOOP_CHOICES } from './Transport';
import type { BenchModel } from './useBenchModel';
import { useGridKeys } from './useGridKeys';

/** Every gesture of the Bench on the keyboard. */
export function useBenchKeys(model: BenchModel): void {
  usePlaybackKeys(model);
  useGridKeys(model);
  useViewKeys(model);
  useSavingKeys(model);
  const { bench, cut, mainView, card, setCard } = model;
  // The card does the rest once it is shown.
  useShortcuts(PROOF, {
    ...(card !== 'Proof' && {
      next: () => {
        beginProof();
        setCard('Proof');
      },
    }),
  });
  // What is undone: the settings of a cut where they are in sight, else what is settled.
  const isCut = mainView === 'cut';
  useShortcuts(STEPS, { undo: (isCut && cut.undo) || bench.undo, redo: (isCut && cut.redo) || bench.redo });
}

function usePlaybackKeys({ bench, looping, comparing }: BenchModel): void {
  const { grid } = bench;
  const aim = useAim({ hasClick: true });
  useTakesInHand(bench.entry.summary, aim);
  const { looped, setLooped, loopBars, loop } = looping;
  const step = (beats: number) => {
    const now = engine.position();
    engine.seek(grid ? beatTime(grid, Math.round(beatPosition(grid, now) + beats)) : now + beats * 0.5);
  };
  const bars = looped?.kind === 'bars' ? looped.bars : 0;
  useShortcuts(PLAYBACK, {
    play: () => engine.toggle(),
    fromOne: () => grid && engine.play(grid.one),
    lastBars: () => {
      if (!grid || !loop) return;
      void engine.play(Math.max(0, loop.end - (4 * feltBeatsPerBar(grid.meter) * 60) / grid.tempoBpm));
    },
    click: () => engine.setClick({ on: !engine.getState().click.on }),
    clickOnly: (event) => engine.soloWhileHeld('click', event),
    audioOnly: (event) => engine.soloWhileHeld('audio', event),
    loopLength: () => loopBars(LOOP_CHOICES[(LOOP_CHOICES.indexOf(bars) + 1) % LOOP_CHOICES.length]),
    loop: () => setLooped(looped?.kind === 'loop' ? null : { kind: 'loop' }),
    speed: () => engine.setSpeed(speedAfter(engine.getState().speed)),
    compare: comparing.toggle,
    beatForward: () => step(1),
    beatBack: () => step(-1),
    atTarget: () => atTarget(aim, bench.entry.summary, engine.position()),
  });
}

function useViewKeys({ bench, view, mainView, setMainView, setCard, stepRows }: BenchModel): void {
  const router = useRouter();
  const { grid, entry } = bench;
  const { sampleId, durationSeconds } = entry.summary;
  const duration = durationSeconds ?? 0;
  const seconds = view.to - view.from;
  const zoom = (way: 1 | -1) => {
    if (mainView === 'fold') return stepRows(way);
    const now = engine.position();
    const middle = now >= view.from && now <= view.to ? now : (view.from + view.to) / 2;
    view.zoom(way > 0 ? 0.6 : 1 / 0.6, middle);
  };
  const go = (to: 'previous' | 'next') => {
    const target = neighbours(sampleId)[to];
    if (target) router.push(`/bench/${target.sampleId}`);
  };
  useShortcuts(VIEW, {
    fold: () => setMainView('fold'),
    line: () => setMainView('line'),
    seam: () => setMainView('seam'),
    key: () => setMainView('key'),
    cut: () => setMainView('cut'),
    closer: () => zoom(1),
    wider: () => zoom(-1),
    toOne: () => grid && view.show(grid.one - seconds * 0.1, grid.one + seconds * 0.9),
    toEnd: () => view.show(duration - seconds, duration),
    whole: () => view.show(0, duration),
    tags: () => {
      setCard('Tags');
      focusWhenShown(TAG_FIELD);
    },
    next: () => go('next'),
    previous: () => go('previous'),
  });
}

function useSavingKeys({ bench }: BenchModel): void {
  const { summary } = bench.entry;
  const intoBlend = usePutIntoBlend();
  const intoPack = usePutIntoPack();
  useShortcuts(SAVING, {
    save: () => save(bench),
    blend: () => intoBlend([summary.sampleId]),
    pack: () => intoPack([summary.sampleId]),
  });
}
