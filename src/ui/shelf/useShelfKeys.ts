import type { SampleSummary } from '@/core/library/entry';
import type { BulkPart } from '../bulk/BulkBar';
import type { useBulk } from '../bulk/useBulk';
import type { Chosen } from '../bulk/useChosen';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { targetKeys } from '../target/TargetBar';
import type { Aim } from '../target/useAim';

interface Keyed {
  rowAt: (index: number) => SampleSummary | null;
  total: number;
  selected: number;
  setSelected: (index: number) => void;
  walk: (by: number) => void;
  aim: Aim;
  chosen: Chosen;
  chooseAll: () => Promise<void>;
  bulk: ReturnType<typeof useBulk>;
  setPart: (part: BulkPart | null) => void;
  open: (sampleId: string) => void;
  likeThis: (sampleId: string) => void;
  /** Tempo and key of the row in hand. */
  thisOne: ReturnType<Parameters<typeof targetKeys>[0]>;
  onEdit: () => void;
  onTiles: () => void;
}

/** The keys of the Shelf. */
export function useShelfKeys(keyed: Keyed) {
  const { rowAt, total, selected, setSelected, walk, aim, chosen, chooseAll, bulk, setPart } = keyed;
  const { open, likeThis, thisOne, onEdit, onTiles } = keyed;
  const current = rowAt(selected);
  const group = 'Shelf';
  const step =
    (by: number, keepsOthers = false) =>
    () => {
      const next = rowAt(Math.max(0, Math.min(total - 1, selected < 0 && by > 0 ? 0 : selected + by)));
      walk(by);
      if (next) void aim.play(next, 0, keepsOthers);
    };
  const actions: KeyAction[] = [
    { keys: '↓', does: 'Next row, played at once', group, matches: key('ArrowDown'), run: step(1) },
    { keys: '↑', does: 'Previous row, played at once', group, matches: key('ArrowUp'), run: step(-1) },
    {
      keys: 'Shift + ↓',
      does: 'Next row, beside what sounds',
      group,
      matches: key('Shift+ArrowDown'),
      run: step(1, true),
    },
    {
      keys: 'Shift + ↑',
      does: 'Previous row, beside what sounds',
      group,
      matches: key('Shift+ArrowUp'),
      run: step(-1, true),
    },
    {
      keys: 'Space',
      does: 'Play the row, or stop',
      group,
      matches: key('Space'),
      run: () => current && aim.toggle(current),
    },
    {
      keys: 'Enter',
      does: 'Open on the Bench',
      group,
      matches: key('Enter'),
      run: () => current && open(current.sampleId),
    },
    {
      keys: 'L',
      does: 'Those that are like this one',
      group,
      matches: character('l'),
      run: () => current && likeThis(current.sampleId),
    },
    { keys: 'Home', does: 'First row', group, matches: key('Home'), run: () => setSelected(0) },
    { keys: 'End', does: 'Last row', group, matches: key('End'), run: () => setSelected(total - 1) },
    {
      keys: 'X',
      does: 'Choose this row with others, or not',
      group,
      matches: character('x'),
      run: () => current && chosen.toggle({ sampleId: current.sampleId, base: current.sequence }),
    },
    {
      keys: 'Ctrl + A',
      does: 'Choose all that are listed',
      group,
      matches: key('Ctrl+KeyA'),
      run: () => void chooseAll(),
    },
    { keys: 'Esc', does: 'Choose none', group, matches: key('Escape'), run: () => chosen.clear() },
    {
      keys: 'E',
      does: 'Tags and words of this one, or the search',
      group,
      matches: character('e'),
      run: onEdit,
    },
    {
      keys: 'B',
      does: 'Tags of all chosen …',
      group,
      matches: character('b'),
      run: () => (chosen.size > 0 || current) && setPart('tags'),
    },
    {
      keys: 'M',
      does: 'Make the row, or all chosen, at the target …',
      group,
      matches: character('m'),
      run: () => (chosen.size > 0 || current) && setPart('render'),
    },
    {
      keys: 'N',
      does: 'Rename by a template …',
      group,
      matches: character('n'),
      run: () => (chosen.size > 0 || current) && setPart('rename'),
    },
    ...([1, 2, 3, 4, 5] as const).map((rating): KeyAction => ({
      keys: rating === 1 ? '1 … 5' : '',
      does: rating === 1 ? 'Rate the row, or all chosen' : '',
      group,
      matches: character(String(rating)),
      run: () => void bulk.perform({ do: 'write', patch: { rating } }, targetsOf(chosen, current)),
    })),
    { keys: 'G', does: 'As a grid of traces, or a list', group, matches: character('g'), run: onTiles },
    {
      keys: 'Ctrl + Z',
      does: 'Take the last step back',
      group,
      matches: key('Ctrl+KeyZ'),
      run: () => void bulk.undo(),
    },
    ...targetKeys(() => thisOne),
  ];
  useKeys(actions);
}

function targetsOf(chosen: Chosen, current: SampleSummary | null) {
  if (chosen.size > 0) return chosen.targets;
  return current ? [{ sampleId: current.sampleId, base: current.sequence }] : [];
}
