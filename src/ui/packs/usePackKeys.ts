import type { PackLine } from '@/library/packs/contents';
import type { useHand } from '../pieces/useHand';
import { key, useKeys, type KeyAction } from '../shell/keys';
import type { Aim } from '../target/useAim';
import { moveLine, takeOut, type PackHand } from './packHand';

export type PackedList = ReturnType<typeof useHand<PackLine>>;

interface Hands {
  hand: PackHand;
  lines: readonly PackLine[];
  list: PackedList;
  aim: Aim;
  open: (sampleId: string) => void;
}

/** The keys of a pack. */
export function usePackKeys({ hand, lines, list, aim, open }: Hands) {
  const group = 'Pack';
  const { held, selected, walk, setSelected } = list;
  const step = (by: number) => () => {
    const next = walk(by);
    if (next?.row) void aim.play(next.row);
  };
  const move = (by: number) => () => {
    if (held && selected >= 0) moveLine(hand, held, selected + by);
  };
  const actions: KeyAction[] = [
    { keys: '↓', does: 'Next row, played at once', group, matches: key('ArrowDown'), run: step(1) },
    { keys: '↑', does: 'Previous row, played at once', group, matches: key('ArrowUp'), run: step(-1) },
    {
      ...{ keys: 'Space', does: 'Play the row, or stop', group, matches: key('Space') },
      run: () => held?.row && aim.toggle(held.row),
    },
    {
      ...{ keys: 'Enter', does: 'Open on the Bench', group, matches: key('Enter') },
      run: () => held?.row && open(held.sampleId),
    },
    { keys: 'Alt + ↓', does: 'A place further down', group, matches: key('Alt+ArrowDown'), run: move(1) },
    { keys: 'Alt + ↑', does: 'A place further up', group, matches: key('Alt+ArrowUp'), run: move(-1) },
    {
      ...{ keys: 'Delete', does: 'Take it out of the pack', group, matches: key('Delete') },
      run: () => held && selected >= 0 && takeOut(hand, held),
    },
    { keys: 'Home', does: 'First row', group, matches: key('Home'), run: () => setSelected(0) },
    {
      ...{ keys: 'End', does: 'Last row', group, matches: key('End') },
      run: () => setSelected(lines.length - 1),
    },
    { keys: 'Page ↓', does: 'Ten rows on', group, matches: key('PageDown'), run: () => void walk(10) },
    { keys: 'Page ↑', does: 'Ten rows back', group, matches: key('PageUp'), run: () => void walk(-10) },
    {
      ...{ keys: 'Ctrl + Z', does: 'Take the last step back', group, matches: key('Ctrl+KeyZ') },
      run: () => hand.step('undo'),
    },
    {
      ...{ keys: 'Ctrl + Shift + Z', does: 'Do it again', group, matches: key('Ctrl+Shift+KeyZ') },
      run: () => hand.step('redo'),
    },
  ];
  useKeys(actions);
}
