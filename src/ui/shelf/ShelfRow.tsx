import clsx from 'clsx';
import { Download, GitBranch, Layers, TriangleAlert } from 'lucide-react';
import { memo } from 'react';
import type { Proposal } from '@/core/fit/proposal';
import type { SampleSummary } from '@/contract/entry';
import { whyNotTagged } from '@/library/samples/taggable';
import { allDoubtWords } from '@/words/doubts';
import { originalUrl, taggedUrl } from '../api/samples';
import { useDraggedRow } from '../blend/DropIntoBlend';
import { barsText, bpmText, keyOfRow, KIND_TEXT, lengthText } from '../pieces/figures';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { ProofMark } from '../pieces/ProofMark';
import { rowGestures, rowGround, type RowGestures } from '../pieces/rowGestures';
import { levelSign, proposalSentence, semitonesText, timesText } from '../target/proposalWords';
import type { Aim } from '../target/useAim';
import { Thumbnail } from '../trace/Thumbnail';

const COLUMNS =
  'grid grid-cols-[8rem_minmax(10.5rem,1.4fr)_3.6rem_6.2rem_4.6rem_3.5rem_5rem_minmax(6.5rem,1fr)_6.2rem] gap-x-3 px-4';

interface RowProps extends Pick<RowGestures, 'index' | 'onSelect' | 'onOpen'> {
  row: SampleSummary;
  selected: boolean;
  /** What the target does to it; null while that is off. */
  proposal: Proposal | null;
  aim: Aim;
  /** It is chosen together with others. */
  chosen: boolean;
  onBlend: (row: SampleSummary) => void;
}

/** A saved sample with what the target makes of it. */
export const ShelfRow = memo(function ShelfRow({
  row,
  index,
  selected,
  proposal,
  aim,
  chosen,
  onSelect,
  onOpen,
  onBlend,
}: RowProps) {
  const whyNot = whyNotTagged(row, row.tempoBpm !== null);
  const dragged = useDraggedRow(row);
  const link = 'inline-flex items-center gap-1 underline-offset-2 hover:underline';
  return (
    <div
      role="row"
      aria-rowindex={index + 1}
      aria-selected={selected || chosen}
      {...dragged}
      {...rowGestures({ sampleId: row.sampleId, index, onSelect, onOpen })}
      className={clsx(
        COLUMNS,
        'h-12 items-center border-b border-rule text-small',
        rowGround(selected, chosen),
      )}
    >
      <div role="gridcell">
        <Thumbnail
          sampleId={row.sampleId}
          thumbnail={row.thumbnail}
          durationSeconds={row.durationSeconds}
          name={row.name}
          onPlay={(from) => aim.toggle(row, from)}
        />
      </div>
      <div role="gridcell" className="min-w-0">
        <button
          type="button"
          onMouseDown={keepKeysFree}
          tabIndex={-1}
          className="block max-w-full truncate text-base font-medium hover:underline"
          onClick={() => onOpen(row.sampleId)}
        >
          {row.name}
        </button>
        <div className="flex items-center gap-1 truncate text-tiny text-ink-soft">
          {row.parent && (
            <>
              <GitBranch className="size-3 shrink-0" aria-hidden /> of {row.parent.name}
            </>
          )}
          {!row.parent && (row.folder || ' ')}
        </div>
      </div>
      <div role="gridcell">{row.kind ? KIND_TEXT[row.kind] : ''}</div>
      <div role="gridcell" className="figures text-right">
        {row.tempoBpm !== null && (
          <>
            <b className="text-base font-semibold">{bpmText(row.tempoBpm)}</b>{' '}
            <span className="text-ink-soft">BPM</span>
          </>
        )}
        {proposal && <Becomes>{tempoBecomes(proposal)}</Becomes>}
      </div>
      <div role="gridcell" className="font-medium">
        {keyOfRow(row) ?? (
          <span className="text-ink-soft">{row.kind === 'oneshot' ? 'no root' : 'no key'}</span>
        )}
        {proposal && <Becomes>{keyBecomes(proposal)}</Becomes>}
      </div>
      <div role="gridcell" className="figures text-right">
        {row.durationSeconds !== null && lengthText(row.durationSeconds)}
        {proposal && <Becomes>{proposal.bars !== null && barsText(proposal.bars)}</Becomes>}
      </div>
      <div role="gridcell">
        <span className="flex items-center gap-1">
          <ProofMark proof={row.proof} tempoBpm={row.tempoBpm} />
          {row.doubts.length > 0 && (
            <span title={allDoubtWords(row.doubts).join('\n')} className="text-look">
              <TriangleAlert
                className="size-3.5"
                aria-label={`Uncertain: ${allDoubtWords(row.doubts).join('; ')}`}
              />
            </span>
          )}
        </span>
        {proposal && <Strain proposal={proposal} />}
      </div>
      <div role="gridcell" className="line-clamp-2 leading-tight text-ink-soft">
        {row.rating !== null && <span className="figures text-ink">{row.rating}/5 </span>}
        {row.tags.map(({ value }) => value).join(', ')}
      </div>
      <div role="gridcell" className="flex flex-col text-tiny">
        {whyNot ? (
          <span className="text-ink-soft" title={whyNot}>
            no tagged copy
          </span>
        ) : (
          <a
            className={link}
            href={taggedUrl(row.sampleId)}
            download
            aria-label={`Tagged copy of ${row.name}`}
          >
            <Download className="size-3" aria-hidden /> tagged copy
          </a>
        )}
        <a className={link} href={originalUrl(row.sampleId)} download aria-label={`Original of ${row.name}`}>
          <Download className="size-3" aria-hidden /> original
        </a>
        <button
          type="button"
          tabIndex={-1}
          onMouseDown={keepKeysFree}
          className={link}
          title="Put it into the Blend (P); or drag the row"
          aria-label={`Put ${row.name} into the Blend`}
          onClick={(event) => {
            event.stopPropagation();
            onBlend(row);
          }}
        >
          <Layers className="size-3" aria-hidden /> into the Blend
        </button>
      </div>
    </div>
  );
});

/** What the target makes of a figure, under it. */
function Becomes({ children }: { children: React.ReactNode }) {
  return <div className="figures text-tiny font-normal text-trace">{children || ' '}</div>;
}

function tempoBecomes(proposal: Proposal): string {
  if (proposal.ratio === 1 && proposal.tempoBpm === null) return '';
  const sign = levelSign(proposal);
  return `${sign ? `${sign}  ` : ''}${timesText(proposal.ratio)}`;
}

function keyBecomes({ semitones, becomes, otherWay }: Proposal): string {
  if (semitones === 0 && !becomes) return '';
  return otherWay === null
    ? semitonesText(semitones)
    : `${semitonesText(semitones)} or ${semitonesText(otherWay)}`;
}

/** A scale that is as full as the sample is bent, and the word for it. */
function Strain({ proposal }: { proposal: Proposal }) {
  const { strain, word } = proposal;
  const share = Math.min(1, strain / 2);
  return (
    <div
      role="img"
      aria-label={`Strain ${strain.toFixed(2)}, ${word}`}
      title={proposalSentence(proposal)}
      className="flex items-center gap-1.5 text-tiny"
    >
      <span className="relative h-1.5 w-8 border border-rule-strong">
        <span
          className={clsx(
            'absolute inset-y-0 left-0',
            strain > 1.8 ? 'bg-one' : strain > 0.85 ? 'bg-look' : 'bg-trace',
          )}
          style={{ width: `${share * 100}%` }}
        />
      </span>
      {word}
    </div>
  );
}

/** The same as a square of a few: the trace large, the figures under it. */
export const ShelfTile = memo(function ShelfTile({
  row,
  index,
  selected,
  proposal,
  aim,
  chosen,
  onSelect,
  onOpen,
}: RowProps) {
  return (
    <div
      role="gridcell"
      aria-rowindex={index + 1}
      aria-selected={selected || chosen}
      {...rowGestures({ sampleId: row.sampleId, index, onSelect, onOpen })}
      className={clsx(
        'flex min-w-0 flex-col border-r border-b border-rule px-3 py-2 text-small',
        rowGround(selected, chosen),
      )}
    >
      <Thumbnail
        isTall
        sampleId={row.sampleId}
        thumbnail={row.thumbnail}
        durationSeconds={row.durationSeconds}
        name={row.name}
        onPlay={(from) => aim.toggle(row, from)}
      />
      <div className="mt-1 truncate font-medium" title={row.name}>
        {row.name}
      </div>
      <div className="figures flex gap-2 truncate text-tiny">
        {row.tempoBpm !== null && <b>{bpmText(row.tempoBpm)} BPM</b>}
        {keyOfRow(row) && <span>{keyOfRow(row)}</span>}
        <span className="text-ink-soft">
          {row.durationSeconds !== null && lengthText(row.durationSeconds)}
        </span>
        {row.rating !== null && <span>{row.rating}/5</span>}
      </div>
      {proposal ? (
        <div className="flex items-center justify-between gap-2">
          <Becomes>{[tempoBecomes(proposal), keyBecomes(proposal)].filter(Boolean).join(', ')}</Becomes>
          <Strain proposal={proposal} />
        </div>
      ) : (
        <div className="truncate text-tiny text-ink-soft">
          {row.tags.map(({ value }) => value).join(', ')}
        </div>
      )}
    </div>
  );
});
