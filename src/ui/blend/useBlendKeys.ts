import { plural } from '@/words/plural';
import { useState } from 'react';
import type { Lane } from '@/contract/blend';
import { ALL_BARS } from '@/contract/blend';
import { engine } from '../audio/engine';
import { semitonesText } from '../target/proposalWords';
import { useShortcuts } from '../kit/shortcuts';
import { BLEND, LANE, LANES, STEPS } from '../shortcuts/shortcutTables';
import { movesOfLane, nextMove } from './moves';
import { alignedOffset } from './TimePanel';
import type { BlendEditor } from './useBlend';
import type { BlendSound } from './useBlendSound';
import type { Scored } from './useScore';

interface Keyed {
  editor: BlendEditor;
  scored: Scored;
  sound: BlendSound;
  selectedLane: string | null;
  onSelect: (laneId: string | null) => void;
  onLead: (laneId: string) => void;
  onTake: (laneId: string) => void;
  onSearch: () => void;
}

/** The transposition that was tried last. */
interface Tried {
  laneId: string;
  semitones: number;
}

/** The keys of the Blend. */
export function useBlendKeys(keyed: Keyed): void {
  const { editor, sound, selectedLane, onSelect, onLead, onTake, onSearch } = keyed;
  useShortcuts(BLEND, {
    play: sound.toggle,
    fromStart: () => sound.play(0),
    click: () => engine.setClick({ on: !engine.getState().click.on }),
    clickOnly: (event) => engine.soloWhileHeld('click', event),
    lanesOnly: (event) => engine.soloWhileHeld('audio', event),
    loop: () => {
      const { round } = editor.now();
      editor.set({ round: round ? null : ALL_BARS }, round ? 'play to the end' : 'loop the whole blend');
    },
    find: onSearch,
  });
  useShortcuts(STEPS, { undo: () => editor.step('undo'), redo: () => editor.step('redo') });
  const all = editor.state.lanes;
  const select = (by: number) => {
    const index = all.findIndex(({ laneId }) => laneId === selectedLane);
    const next = all[Math.max(0, Math.min(all.length - 1, index < 0 ? 0 : index + by))];
    if (next) onSelect(next.laneId);
  };
  const move = (by: number) =>
    withLane(keyed, ({ laneId, name }, index) => {
      const to = Math.max(0, Math.min(all.length - 1, index + by));
      if (to !== index) editor.order({ do: 'move', laneId, to }, `“${name}” moved ${by < 0 ? 'up' : 'down'}`);
    });
  useShortcuts(LANES, {
    next: () => select(1),
    previous: () => select(-1),
    moveDown: move(1),
    moveUp: move(-1),
    lead: withLane(keyed, ({ laneId }) => onLead(laneId)),
    mute: withLane(keyed, ({ laneId, muted, name }) =>
      editor.lane(laneId, { muted: !muted }, `“${name}” ${muted ? 'unmuted' : 'muted'}`),
    ),
    solo: withLane(keyed, ({ laneId, solo, name }) =>
      editor.lane(laneId, { solo: !solo }, `“${name}” ${solo ? 'with the others' : 'solo'}`),
    ),
    remove: withLane(keyed, ({ laneId }) => onTake(laneId)),
  });
  useLaneKeys(keyed);
}

/** Does something to the selected lane, where there is one. */
const withLane =
  ({ editor, selectedLane }: Keyed, act: (lane: Lane, index: number) => void) =>
  () => {
    const { lanes } = editor.now();
    const index = lanes.findIndex(({ laneId }) => laneId === selectedLane);
    if (index >= 0) act(lanes[index], index);
  };

/** The keys of the selected lane. */
function useLaneKeys(keyed: Keyed): void {
  const { editor, scored } = keyed;
  const [tried, setTried] = useState<Tried | null>(null);
  const change = (lane: Lane, patch: Parameters<BlendEditor['lane']>[1], words: string) =>
    editor.lane(lane.laneId, patch, `“${lane.name}”: ${words}`);
  const transposeTo = (lane: Lane, semitones: number) =>
    change(lane, { semitones }, `${semitonesText(semitones)} semitones`);
  const semitones = (by: number) =>
    withLane(keyed, (lane, index) => {
      const was = lane.semitones ?? scored.score.lanes[index]?.bend.semitones ?? 0;
      transposeTo(lane, Math.max(-24, Math.min(24, Math.round(was) + by)));
    });
  const nudge = (by: number) =>
    withLane(
      keyed,
      (lane) => !lane.locked && change(lane, { nudgeMs: lane.nudgeMs + by }, `offset ${by} ms`),
    );
  const beat = (by: number) =>
    withLane(keyed, (lane) => {
      if (lane.locked) return;
      if (lane.held === 'time') change(lane, { atSeconds: lane.atSeconds + by * 0.1 }, 'moved');
      else change(lane, { at: lane.at + by }, `moved by ${by} ${plural(Math.abs(by), 'beat')}`);
    });
  useShortcuts(LANE, {
    higher: semitones(1),
    lower: semitones(-1),
    transpose: withLane(keyed, (lane) => {
      const offered = movesOfLane(scored, lane.laneId);
      if (!offered) return;
      const last = tried?.laneId === lane.laneId ? tried.semitones : null;
      const next = nextMove(offered.moves, offered.now, last);
      if (!next) return;
      setTried({ laneId: lane.laneId, semitones: next.semitones });
      transposeTo(lane, next.semitones);
    }),
    align: withLane(keyed, (lane) => {
      const { medianMs = null } = scored.timing.find(({ laneId }) => laneId === lane.laneId)?.figures ?? {};
      // Of the offset that the hits were read at.
      const read = scored.score.lanes.find((one) => one.lane.laneId === lane.laneId)?.lane;
      if (medianMs !== null && read && !lane.locked)
        change(lane, { nudgeMs: alignedOffset(read.nudgeMs, medianMs) }, 'aligned');
    }),
    later1: nudge(1),
    earlier1: nudge(-1),
    later10: nudge(10),
    earlier10: nudge(-10),
    laterBeat: beat(1),
    earlierBeat: beat(-1),
  });
}
