import type { SampleSummary } from '@/contract/entry';
import { toast } from 'sonner';
import { takeAway } from '../api/archives';
import type { BulkPart } from '../bulk/BulkBar';
import type { useBulk } from '../bulk/useBulk';
import type { Chosen } from '../bulk/useChosen';
import { character, key, useKeys, type KeyAction } from '../shell/keys';
import { targetKeys } from '../target/TargetBar';
import type { Aim } from '../target/useAim';

interface Keyed {
  total: number;
  /** What the hand lies on. */
  held: SampleSummary | null;
  setSelected: (index: number) => void;
  walk: (by: number) => SampleSummary | null;
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
  /** Puts the row in hand, or all chosen, into the blend. */
  onBlend: () => void;
  /** … into the pack. */
  onPack: () => void;
}

/** The keys of the Shelf. */
export function useShelfKeys(keyed: Keyed) {
  const { total, held: current, setSelected, walk, aim, chosen, chooseAll, bulk, setPart } = keyed;
  const { open, likeThis, thisOne, onEdit, onTiles, onBlend, onPack } = keyed;
  const group = 'Shelf';
  const step =
    (by: number, keepsOthers = false) =>
    () => {
      const next = walk(by);
      if (next) void aim.play(next, 0, keepsOthers);
    };
  const away = (as: 'tagged' | 'original') =>
    void takeAway(
      targetsOf(chosen, current).map(({ sampleId }) => sampleId),
      as,
    ).catch((error: Error) => toast.error(error.message));
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
    { keys: 'Page ↓', does: 'Ten rows on', group, matches: key('PageDown'), run: () => void walk(10) },
    { keys: 'Page ↑', does: 'Ten rows back', group, matches: key('PageUp'), run: () => void walk(-10) },
    {
      keys: 'Shift + D',
      does: 'Take the originals of the row, or of all chosen, away',
      group,
      matches: key('Shift+KeyD'),
      run: () => away('original'),
    },
    {
      keys: 'D',
      does: 'Take tagged copies of the row, or of all chosen, away',
      group,
      matches: character('d'),
      run: () => away('tagged'),
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
    {
      keys: 'P',
      does: 'Put the row, or all chosen, into the Blend',
      group,
      matches: character('p'),
      run: onBlend,
    },
    {
      keys: 'K',
      does: 'Put the row, or all chosen, into the pack',
      group,
      matches: character('k'),
      run: onPack,
    },
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
