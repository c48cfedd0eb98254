'use client';
import { KIND_TEXT } from '@/words/figures';
import type { IntakeQuery } from '@/contract/shelfQuery';
import { Button } from '../../kit/Button';
import { SearchField } from '../../kit/SearchField';
import { Select } from '../../kit/Select';
import { FiguresProof } from './FiguresProof';
import type { IntakeView } from './intakeView';

const SHOWN: Readonly<Partial<Record<IntakeQuery['show'], string>>> = {
  all: 'All',
  'needs a look': 'Needs review',
  'to do': 'To do',
  sure: 'Certain',
  measuring: 'Being measured',
  faulty: 'Cannot be read',
  saved: 'Saved',
  bin: 'Bin',
};
const KINDS = ['', ...Object.keys(KIND_TEXT)] as IntakeView['kind'][];

interface Props {
  view: IntakeView;
  counts: Record<string, number>;
  onView: (patch: Partial<IntakeView>) => void;
  onShow: (show: IntakeQuery['show']) => void;
}

/** What of the Intake is listed: by status, kind and words. */
export function IntakeFilters({ view, counts, onView, onShow }: Props) {
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-b border-rule px-4 py-1.5">
      <div role="group" aria-label="Show" className="flex flex-wrap gap-1">
        {Object.entries(SHOWN).map(([show, label]) => (
          <Button key={show} pressed={view.show === show} onClick={() => onShow(show as IntakeQuery['show'])}>
            {label}{' '}
            <span className="figures font-normal text-ink-soft">
              {(counts[show] ?? 0).toLocaleString('en')}
            </span>
          </Button>
        ))}
      </div>
      <Select
        label="Kind"
        className="ml-auto w-24"
        value={view.kind}
        options={KINDS}
        text={(kind) => (kind === '' ? 'any kind' : KIND_TEXT[kind])}
        onChange={(kind) => onView({ kind })}
      />
      <SearchField
        label="Search the Intake"
        placeholder="name, folder, tag"
        className="w-40"
        value={view.text}
        onValue={(text) => onView({ text })}
      />
      <FiguresProof text={view.text} kind={view.kind} />
    </div>
  );
}
