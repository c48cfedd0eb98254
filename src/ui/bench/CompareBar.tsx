'use client';
import type { Grid } from '@/core/rhythm/grid';
import { Button } from '../pieces/Button';
import { KeyHint } from '../pieces/KeyHint';

/** Another grid that is held against the settled one. */
export interface Compared {
  label: string;
  grid: Grid;
}

interface Props {
  compared: Compared;
  /** Whether the other grid is the one that is drawn and clicks now. */
  heard: boolean;
  settled: string;
  onToggle: () => void;
  onEnd: () => void;
}

/** Which of two grids is heard now, and the way from one to the other while it plays. */
export function CompareBar({ compared, heard, settled, onToggle, onEnd }: Props) {
  return (
    <div
      className="flex h-9 shrink-0 items-center gap-2 border-b border-rule-strong bg-wash-ink px-2 text-small"
      role="group"
      aria-label="Two grids"
    >
      <span>Click and rules:</span>
      <Button className="h-6" pressed={!heard} onClick={() => heard && onToggle()}>
        settled, {settled}
      </Button>
      <Button className="h-6" pressed={heard} onClick={() => !heard && onToggle()}>
        {compared.label}
      </Button>
      <KeyHint>B</KeyHint>
      <Button className="ml-auto h-6" tone="quiet" onClick={onEnd}>
        Enough
      </Button>
    </div>
  );
}
