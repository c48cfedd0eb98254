import clsx from 'clsx';
import { Download, GitBranch, HardDriveDownload, Layers, Package, TriangleAlert } from 'lucide-react';
import type { Proposal, Target } from '@/core/timeStretch/proposal';
import type { SampleSummary } from '@/contract/entry';
import { proposalOfRow } from '@/library/samples/aims';
import { whyNotTagged } from '@/library/samples/taggable';
import { allDoubtWords } from '@/words/doubts';
import { barsText, bpmText, keyOfRow, KIND_TEXT, lengthText } from '@/words/figures';
import { originalUrl, taggedUrl } from '../api/samples';
import { IconButton, IconLink } from '../kit/IconButton';
import { RowName, RowTrace } from '../list/cells';
import { ProofMark } from '../list/ProofMark';
import type { Column } from '../list/useColumns';
import { Becomes, keyBecomes, KeyAtTarget, TempoAtTarget } from '../target/Becomes';
import { proposalSentence, tempoBecomesShort } from '../target/proposalWords';
import type { Aim } from '../target/useAim';
import { TargetChoice } from './TargetChoice';

export interface ShelfActions {
  aim: Aim;
  /** Null while the target is off. */
  target: Target | null;
  onOpen: (sampleId: string) => void;
  onBlend: (row: SampleSummary) => void;
  onPack: (row: SampleSummary) => void;
  /** Another way to the target was chosen for it. */
  onChoice: (row: SampleSummary) => void;
}

/** The columns of the Shelf: each sample with what the target makes of it. */
export function shelfColumns(actions: ShelfActions): Column<SampleSummary>[] {
  const { aim, target } = actions;
  const proposalOf = (row: SampleSummary) => (target ? proposalOfRow(row, target) : null);
  return [
    {
      ...{ id: 'trace', label: 'Saved', width: '8rem', sort: 'saved', isFixed: true },
      cell: (row) => <RowTrace row={row} onPlay={(from) => aim.toggle(row, from)} />,
    },
    {
      ...{ id: 'name', label: 'Name', width: 'minmax(10.5rem, 1.4fr)', sort: 'name', isFixed: true },
      cell: (row) => <ShelfName row={row} actions={actions} />,
    },
    {
      ...{ id: 'kind', label: 'Kind', width: '3.6rem' },
      cell: ({ kind }) => (kind ? KIND_TEXT[kind] : ''),
    },
    {
      ...{ id: 'tempo', label: 'Tempo', width: '8.6rem', sort: 'tempo', isRight: true },
      cell: (row) => (
        <>
          {row.tempoBpm !== null && (
            <>
              <b className="text-base font-semibold">{bpmText(row.tempoBpm)}</b>{' '}
              <span className="text-ink-soft">BPM</span>
            </>
          )}
          {target && <TempoAtTarget row={row} target={target} />}
        </>
      ),
    },
    {
      ...{ id: 'key', label: 'Key', width: '4.6rem', sort: 'key', className: 'font-medium' },
      cell: (row) => (
        <>
          {keyOfRow(row) ?? (
            <span className="text-ink-soft">{row.kind === 'oneshot' ? 'no root' : 'no key'}</span>
          )}
          {target && <KeyAtTarget row={row} target={target} />}
        </>
      ),
    },
    {
      ...{ id: 'length', label: 'Length', width: '3.5rem', sort: 'length', isRight: true },
      cell: (row) => {
        const proposal = proposalOf(row);
        return (
          <>
            {row.durationSeconds !== null && lengthText(row.durationSeconds)}
            {proposal && <Becomes>{proposal.bars !== null && barsText(proposal.bars)}</Becomes>}
          </>
        );
      },
    },
    {
      ...{ id: 'proof', label: target ? 'Proof, strain' : 'Proof', width: '6.6rem' },
      cell: (row) => <Checked row={row} proposal={proposalOf(row)} actions={actions} />,
    },
    {
      ...{ id: 'tags', label: 'Rating, tags', width: 'minmax(6rem, 1fr)', sort: 'rating' },
      className: 'line-clamp-2 leading-tight text-ink-soft',
      cell: ({ rating, tags }) => (
        <>
          {rating !== null && <span className="figures text-ink">{rating}/5 </span>}
          {tags.map(({ value }) => value).join(', ')}
        </>
      ),
    },
    {
      ...{ id: 'actions', label: '', width: '0', isFixed: true, className: 'relative h-full' },
      cell: (row) => <RowActions row={row} actions={actions} />,
    },
  ];
}

/** The name of a saved sample, with its parent or folder. */
function ShelfName({ row, actions }: { row: SampleSummary; actions: ShelfActions }) {
  return (
    <>
      <RowName row={row} onOpen={actions.onOpen} />
      <div className="flex items-center gap-1 truncate text-tiny text-ink-soft">
        {row.parent ? (
          <>
            <GitBranch className="size-3 shrink-0" aria-hidden /> of {row.parent.name}
          </>
        ) : (
          row.folder || ' '
        )}
      </div>
    </>
  );
}

/** What can be done with a row: shown under the pointer and on the row of the cursor, over its last columns. */
function RowActions({ row, actions: { onBlend, onPack } }: { row: SampleSummary; actions: ShelfActions }) {
  const whyNot = whyNotTagged(row, row.tempoBpm !== null);
  return (
    <div className="absolute top-1/2 right-0 hidden -translate-y-1/2 items-center border border-rule bg-sheet group-hover/row:flex group-aria-selected/row:flex">
      <IconLink
        label={whyNot ? `No tagged copy: ${whyNot}` : `Download tagged copy of ${row.name}`}
        href={whyNot ? undefined : taggedUrl(row.sampleId)}
      >
        <Download aria-hidden />
      </IconLink>
      <IconLink label={`Download original of ${row.name}`} href={originalUrl(row.sampleId)}>
        <HardDriveDownload aria-hidden />
      </IconLink>
      <IconButton
        label={`Add ${row.name} to the blend`}
        tabIndex={-1}
        onClick={(event) => {
          event.stopPropagation();
          onBlend(row);
        }}
      >
        <Layers aria-hidden />
      </IconButton>
      <IconButton
        label={`Add ${row.name} to the pack`}
        tabIndex={-1}
        onClick={(event) => {
          event.stopPropagation();
          onPack(row);
        }}
      >
        <Package aria-hidden />
      </IconButton>
    </div>
  );
}

/** Whether its grid is proved and what is uncertain; at a target, how much it is bent and which way. */
function Checked({
  row,
  proposal,
  actions: { target, onChoice },
}: {
  row: SampleSummary;
  proposal: Proposal | null;
  actions: ShelfActions;
}) {
  const doubts = allDoubtWords(row.doubts);
  return (
    <>
      <span className="flex items-center gap-1">
        <ProofMark proof={row.proof} tempoBpm={row.tempoBpm} />
        {doubts.length > 0 && (
          <span title={doubts.join('\n')} className="text-look">
            <TriangleAlert className="size-3.5" aria-label={`Uncertain: ${doubts.join('; ')}`} />
          </span>
        )}
      </span>
      {proposal && target && (
        <span className="flex items-center justify-between">
          <Strain proposal={proposal} own={row.tempoBpm} />
          <TargetChoice row={row} proposal={proposal} target={target} onChosen={onChoice} />
        </span>
      )}
    </>
  );
}

/** A scale that is as full as the sample is bent, and the word for it unless it is `isBare`. */
function Strain({
  proposal,
  own,
  isBare = false,
}: {
  proposal: Proposal;
  own: number | null;
  isBare?: boolean;
}) {
  const { strain, word } = proposal;
  const share = Math.min(1, strain / 2);
  return (
    <div
      role="img"
      aria-label={`Strain ${strain.toFixed(2)}, ${word}`}
      title={proposalSentence(proposal, own)}
      className="flex shrink-0 items-center gap-1.5 text-tiny"
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
      {!isBare && word}
    </div>
  );
}

/** A saved sample as a tile: the trace large, the figures below it. */
export function ShelfTile({
  row,
  aim,
  target,
}: { row: SampleSummary } & Pick<ShelfActions, 'aim' | 'target'>) {
  const proposal = target ? proposalOfRow(row, target) : null;
  return (
    <>
      <RowTrace isTall row={row} onPlay={(from) => aim.toggle(row, from)} />
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
          <Becomes className="min-w-0 truncate">
            {[tempoBecomesShort(proposal, row.tempoBpm), keyBecomes(proposal)].filter(Boolean).join(', ')}
          </Becomes>
          <Strain isBare proposal={proposal} own={row.tempoBpm} />
        </div>
      ) : (
        <div className="truncate text-tiny text-ink-soft">
          {row.tags.map(({ value }) => value).join(', ')}
        </div>
      )}
    </>
  );
}
