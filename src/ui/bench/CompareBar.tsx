'use client';
import { Button } from '../kit/Button';
import { KeyHint } from '../kit/KeyHint';
import { bpmText } from '@/words/figures';
import { useBenchModel } from './useBenchModel';

/** Which of two grids is heard now, and the way from one to the other while it plays. */
export function CompareBar() {
  const { bench, comparing } = useBenchModel();
  const { compared, isHeard, toggle, compare } = comparing;
  if (!compared) return null;
  const settled = bench.pinned ? `${bpmText(bench.pinned.grid.tempoBpm)} BPM` : 'nothing';
  return (
    <div
      className="flex h-9 shrink-0 items-center gap-2 border-b border-rule-strong bg-wash-ink px-2 text-small"
      role="group"
      aria-label="Compare grids"
    >
      <span>Click and grid lines:</span>
      <Button small pressed={!isHeard} onClick={() => isHeard && toggle()}>
        in use, {settled}
      </Button>
      <Button small pressed={isHeard} onClick={() => !isHeard && toggle()}>
        {compared.label}
      </Button>
      <KeyHint>B</KeyHint>
      <Button className="ml-auto h-6" tone="quiet" onClick={() => compare(null)}>
        Stop comparing
      </Button>
    </div>
  );
}
