import type { MouseEvent } from 'react';

export interface RowGestures {
  sampleId: string;
  index: number;
  onSelect: (index: number, how: { range: boolean; toggle: boolean }) => void;
  onOpen: (sampleId: string) => void;
}

/** By what the list says which row the cursor is on. */
export const rowId = (sampleId: string): string => `row-${sampleId}`;

/** What pressing a row of a list does: it is selected, with Shift up to it, with Ctrl besides; pressed twice it is opened. */
export const rowGestures = ({ sampleId, index, onSelect, onOpen }: RowGestures) => ({
  id: rowId(sampleId),
  // Shift would select the words between.
  onMouseDown: (event: MouseEvent) => {
    if (event.shiftKey) event.preventDefault();
  },
  onClick: (event: MouseEvent) =>
    onSelect(index, { range: event.shiftKey, toggle: event.ctrlKey || event.metaKey }),
  onDoubleClick: () => onOpen(sampleId),
});

/** How a row is drawn that keys act on, or that is chosen with others. */
export const rowGround = (selected: boolean, chosen: boolean): string =>
  selected ? 'bg-wash-ink shadow-[inset_3px_0_0_var(--one)]' : chosen ? 'bg-wash-ink' : 'hover:bg-sheet';
