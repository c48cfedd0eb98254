import type { Pack, PackOrder } from '@/contract/pack';
import type { PackLine } from '@/library/packs/contents';
import type { DocumentEditor } from '../documents/useDocument';

export type PackEditor = DocumentEditor<Pack, PackOrder>;

/** Moves a sample to another place of the pack, from 0. */
export function moveLine(editor: PackEditor, line: PackLine, to: number) {
  const { sampleIds } = editor.now();
  const place = Math.max(0, Math.min(sampleIds.length - 1, to));
  if (sampleIds[place] !== line.sampleId)
    editor.order({ do: 'move', sampleId: line.sampleId, to: place }, `“${nameOfLine(line)}” moved`);
}

/** Removes a sample from the pack. */
export const removeLine = (editor: PackEditor, line: PackLine) =>
  editor.order({ do: 'take', sampleIds: [line.sampleId] }, `“${nameOfLine(line)}” removed`);

export const nameOfLine = ({ row }: PackLine) => row?.name ?? 'a deleted sample';
