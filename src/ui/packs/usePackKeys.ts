'use client';
import type { PackLine } from '@/library/packs/contents';
import { useShortcuts } from '../kit/shortcuts';
import { useListKeys } from '../list/useListKeys';
import type { Listing } from '../list/usePagedList';
import { PACK, STEPS } from '../shortcuts/shortcutTables';
import type { Aim } from '../target/useAim';
import { moveLine, removeLine, type PackEditor } from './packEditor';

interface Keyed {
  editor: PackEditor;
  list: Listing<PackLine>;
  aim: Aim;
  open: (sampleId: string) => void;
}

/** The keys of a pack. */
export function usePackKeys({ editor, list, aim, open }: Keyed): void {
  const { row, at } = list.cursor;
  const moveBy = (by: number) => row && at >= 0 && moveLine(editor, row, at + by);
  useListKeys({
    list,
    onStep: (line) => line.row && void aim.play(line.row),
    onPlay: (line) => line.row && aim.toggle(line.row),
    onOpen: (line) => line.row && open(line.sampleId),
  });
  useShortcuts(PACK, {
    moveDown: () => moveBy(1),
    moveUp: () => moveBy(-1),
    remove: () => row && at >= 0 && removeLine(editor, row),
  });
  useShortcuts(STEPS, { undo: () => editor.step('undo'), redo: () => editor.step('redo') });
}
