import { useMemo, useState } from 'react';
import type { Lane } from '@/contract/blend';
import { ALL_BARS } from '@/contract/blend';
import { engine } from '../audio/engine';
import { semitonesText } from '../target/proposalWords';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { movesOfLane, nextMove } from './moves';
import { uprightNudge } from './TimePanel';
import type { BlendHand } from './useBlend';
import type { BlendSound } from './useBlendSound';
import type { Scored } from './useScore';

interface Hands {
  hand: BlendHand;
  scored: Scored;
  sound: BlendSound;
  inHand: string | null;
  onSelect: (laneId: string | null) => void;
  onLead: (laneId: string) => void;
  onTake: (laneId: string) => void;
  onSearch: () => void;
}

/** What T tried last. */
interface Tried {
  laneId: string;
  semitones: number;
}

/** The keys of the Blend. */
export function useBlendKeys(hands: Hands) {
  const [tried, setTried] = useState<Tried | null>(null);
  const actions = useMemo(
    () => [...playing(hands), ...lanes(hands), ...bending(hands, tried, setTried)],
    [hands, tried],
  );
  useKeys(actions);
}

type Line = [string, string, KeyAction['matches'], (event: KeyboardEvent) => void];
const group = (name: string, lines: Line[]): KeyAction[] =>
  lines.map(([keys, does, matches, run]) => ({ keys, does, group: name, matches, run }));

function playing({ hand, sound }: Hands): KeyAction[] {
  return group('Blend', [
    ['Space', 'Play from here, or stop', key('Space'), sound.toggle],
    ['Enter', 'Play from bar 1', key('Enter'), () => sound.play(0)],
    ['C', 'Click on or off', character('c'), () => engine.setClick({ on: !engine.getState().click.on })],
    ['Z (held)', 'The click alone', key('KeyZ'), (event) => engine.soloWhileHeld('click', event)],
    ['X (held)', 'The lanes alone', key('KeyX'), (event) => engine.soloWhileHeld('audio', event)],
    [
      'R',
      'All goes round, or is played to its end',
      character('r'),
      () => {
        const { round } = hand.now();
        hand.set({ round: round ? null : ALL_BARS }, round ? 'played to its end' : 'all goes round');
      },
    ],
    ['Ctrl + Z', 'Take the last step back', key('Ctrl+KeyZ'), () => hand.step('undo')],
    ['Ctrl + Shift + Z', 'Do it again', key('Ctrl+Shift+KeyZ'), () => hand.step('redo')],
  ]);
}

/** Does something to the lane in hand, where there is one. */
const withLane =
  ({ hand, inHand }: Hands, act: (lane: Lane, index: number) => void) =>
  () => {
    const { lanes: all } = hand.now();
    const index = all.findIndex(({ laneId }) => laneId === inHand);
    if (index >= 0) act(all[index], index);
  };

function lanes(hands: Hands): KeyAction[] {
  const { hand, inHand, onSelect, onLead, onTake, onSearch } = hands;
  const all = hand.state.lanes;
  const walk = (by: number) => () => {
    const index = all.findIndex(({ laneId }) => laneId === inHand);
    const next = all[Math.max(0, Math.min(all.length - 1, index < 0 ? 0 : index + by))];
    if (next) onSelect(next.laneId);
  };
  const move = (by: number) =>
    withLane(hands, ({ laneId, name }, index) => {
      const to = Math.max(0, Math.min(all.length - 1, index + by));
      if (to !== index) hand.order({ do: 'move', laneId, to }, `“${name}” moved ${by < 0 ? 'up' : 'down'}`);
    });
  return group('Lanes', [
    ['↓', 'Next lane', key('ArrowDown'), walk(1)],
    ['↑', 'Previous lane', key('ArrowUp'), walk(-1)],
    ['Shift + ↓', 'The lane one down', key('Shift+ArrowDown'), move(1)],
    ['Shift + ↑', 'The lane one up', key('Shift+ArrowUp'), move(-1)],
    ['L', 'This one leads', character('l'), withLane(hands, ({ laneId }) => onLead(laneId))],
    [
      'M',
      'Mute',
      character('m'),
      withLane(hands, ({ laneId, muted, name }) =>
        hand.lane(laneId, { muted: !muted }, `“${name}” ${muted ? 'heard again' : 'muted'}`),
      ),
    ],
    [
      'S',
      'Alone',
      character('s'),
      withLane(hands, ({ laneId, solo, name }) =>
        hand.lane(laneId, { solo: !solo }, `“${name}” ${solo ? 'with the others' : 'alone'}`),
      ),
    ],
    ['Del', 'Take it out', key('Delete'), withLane(hands, ({ laneId }) => onTake(laneId))],
    ['F', 'Look for samples to put in', character('f'), onSearch],
  ]);
}

function bending(hands: Hands, tried: Tried | null, onTry: (tried: Tried) => void): KeyAction[] {
  const { hand, scored } = hands;
  const change = (lane: Lane, patch: Parameters<BlendHand['lane']>[1], words: string) =>
    hand.lane(lane.laneId, patch, `“${lane.name}”: ${words}`);
  const semitones = (by: number) =>
    withLane(hands, (lane, index) => {
      const was = lane.semitones ?? scored.score.lanes[index]?.bend.semitones ?? 0;
      const next = Math.max(-24, Math.min(24, Math.round(was) + by));
      change(lane, { semitones: next }, `${semitonesText(next)} semitones`);
    });
  const nudge = (by: number) =>
    withLane(
      hands,
      (lane) => !lane.locked && change(lane, { nudgeMs: lane.nudgeMs + by }, `nudged by ${by} ms`),
    );
  const beat = (by: number) =>
    withLane(hands, (lane) => {
      if (lane.locked) return;
      if (lane.held === 'time') change(lane, { atSeconds: lane.atSeconds + by * 0.1 }, 'moved in time');
      else change(lane, { at: lane.at + by }, `moved by ${by} ${Math.abs(by) === 1 ? 'beat' : 'beats'}`);
    });
  return group('The lane in hand', [
    ['+', 'A semitone higher', character('+'), semitones(1)],
    ['−', 'A semitone lower', character('-'), semitones(-1)],
    [
      'T',
      'Try the best transposition, then the next',
      character('t'),
      withLane(hands, (lane) => {
        const offered = movesOfLane(scored, lane.laneId);
        if (!offered) return;
        const last = tried?.laneId === lane.laneId ? tried.semitones : null;
        const next = nextMove(offered.moves, offered.now, last);
        if (!next) return;
        onTry({ laneId: lane.laneId, semitones: next.semitones });
        change(lane, { semitones: next.semitones }, `${semitonesText(next.semitones)} semitones`);
      }),
    ],
    [
      'U',
      'Set it upright: its hits onto the beats',
      character('u'),
      withLane(hands, (lane) => {
        const { medianMs = null } = scored.timing.find(({ laneId }) => laneId === lane.laneId)?.figures ?? {};
        // Of the nudge that the hits were read at.
        const read = scored.score.lanes.find((one) => one.lane.laneId === lane.laneId)?.lane;
        if (medianMs !== null && read && !lane.locked)
          change(lane, { nudgeMs: uprightNudge(read.nudgeMs, medianMs) }, 'set upright');
      }),
    ],
    ['.', '1 ms later', key('Period'), nudge(1)],
    [',', '1 ms earlier', key('Comma'), nudge(-1)],
    ['Shift + .', '10 ms later', key('Shift+Period'), nudge(10)],
    ['Shift + ,', '10 ms earlier', key('Shift+Comma'), nudge(-10)],
    ['→', 'A beat later', key('ArrowRight'), beat(1)],
    ['←', 'A beat earlier', key('ArrowLeft'), beat(-1)],
  ]);
}
