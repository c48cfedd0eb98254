'use client';
import type { SampleSummary } from '@/contract/entry';
import { keepKeysFree } from '../kit/pressedByMouse';
import { Thumbnail } from '../trace/Thumbnail';

/** The waveform of a row; `onPlay` plays from a place, without it the sample as it was recorded. */
export function RowTrace({
  row: { sampleId, thumbnail, durationSeconds, name },
  onPlay,
  isTall,
}: {
  row: Pick<SampleSummary, 'sampleId' | 'thumbnail' | 'durationSeconds' | 'name'>;
  onPlay?: (from: number) => void;
  isTall?: boolean;
}) {
  return <Thumbnail {...{ sampleId, thumbnail, durationSeconds, name, onPlay, isTall }} />;
}

/** The name of a row; pressing it opens the sample. */
export function RowName({
  row: { sampleId, name },
  onOpen,
}: {
  row: Pick<SampleSummary, 'sampleId' | 'name'>;
  onOpen: (sampleId: string) => void;
}) {
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      tabIndex={-1}
      className="block max-w-full truncate text-left text-base font-medium hover:underline"
      onClick={(event) => {
        // With a modifier rows are selected, which the row does.
        if (!event.shiftKey && !event.ctrlKey && !event.metaKey) onOpen(sampleId);
      }}
    >
      {name}
    </button>
  );
}
