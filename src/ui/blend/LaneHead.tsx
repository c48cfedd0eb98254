'use client';
import { useSortable } from '@dnd-kit/sortable';
import clsx from 'clsx';
import { GripVertical, Lock } from 'lucide-react';
import { memo } from 'react';
import type { Blend } from '@/contract/blend';
import type { LaneFacts, LaneScore } from '@/library/blend/parts';
import { Toggle } from '../kit/Toggle';
import { keepKeysFree } from '../kit/pressedByMouse';
import { keyBecomes, laneSentence, roleOf, speedBecomes, tempoBecomes, tempoPercent } from './blendWords';
import { penStyle } from './pens';
import { StrainMark } from './StrainMark';

interface Props {
  one: LaneScore;
  facts: LaneFacts | null;
  blend: Blend;
  isSelected: boolean;
  height: number;
  onSelect: () => void;
  onMute: () => void;
  onSolo: () => void;
}

/** What a lane is, what becomes of it, and whether it is heard. */
export const LaneHead = memo(function LaneHead({
  one,
  facts,
  blend,
  isSelected,
  height,
  onSelect,
  onMute,
  onSolo,
}: Props) {
  const { lane, bend, fault } = one;
  const { attributes, listeners, setActivatorNodeRef } = useSortable({ id: lane.laneId });
  const role = roleOf(one, blend);
  const leads = role === 'lead';
  const isLow = height < 62;
  const tempo = tempoBecomes(one, facts, blend.tempoBpm);
  return (
    <div
      className={clsx(
        'flex h-full min-w-0 items-stretch gap-1 border-r border-rule-strong pr-2 text-small leading-tight',
        isSelected ? 'bg-wash-ink' : leads ? 'bg-sunk' : 'bg-paper',
      )}
      onClick={onSelect}
      title={laneSentence(one, facts, blend)}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        aria-label={`Move ${lane.name} among the lanes`}
        className="flex w-4 shrink-0 cursor-grab items-center justify-center text-ink-soft hover:text-ink"
      >
        <GripVertical className="size-3.5" aria-hidden />
      </button>
      <div className="flex min-w-0 flex-1 flex-col justify-center gap-0.5">
        <div className="flex items-baseline gap-1.5">
          <button
            type="button"
            onMouseDown={keepKeysFree}
            aria-pressed={isSelected}
            className="min-w-0 flex-1 truncate text-left font-semibold"
            style={penStyle(lane)}
            onClick={onSelect}
          >
            {lane.name}
          </button>
          {lane.locked && <Lock className="size-3 shrink-0 text-ink-soft" aria-label="locked" />}
          <span
            className={clsx(
              'shrink-0 text-tiny',
              leads ? 'font-semibold text-one' : fault ? 'text-look' : 'text-ink-soft',
            )}
          >
            {role}
          </span>
        </div>
        {fault ? (
          <p className="truncate text-tiny text-look">{fault}</p>
        ) : (
          <>
            {/* The key that it is bent to is what has to be read: everything else gives way to it. */}
            <div className="flex items-baseline gap-2 text-tiny whitespace-nowrap">
              <span className="shrink-0">{keyBecomes(one, facts) ?? 'no pitch'}</span>
              {isLow && (
                <span className="figures min-w-0 flex-1 truncate text-right text-ink-soft">
                  {leads ? tempo : (speedBecomes(one) ?? tempoPercent(one))}
                </span>
              )}
              {isLow && !leads && <StrainMark bend={bend} isSmall />}
            </div>
            {!isLow && (
              <div className="flex items-baseline gap-2 text-tiny whitespace-nowrap">
                <span className="figures min-w-0 flex-1 truncate">
                  {tempo ?? 'no tempo'}
                  {speedBecomes(one) && ` ${speedBecomes(one)}`}
                </span>
                {!leads && <StrainMark bend={bend} isSmall />}
              </div>
            )}
          </>
        )}
      </div>
      <div className="flex shrink-0 flex-col justify-center gap-0.5">
        <Toggle
          className="h-4 border leading-none"
          label={`Mute ${lane.name}`}
          title="Mute (M)"
          pressed={lane.muted}
          onClick={onMute}
        >
          mute
        </Toggle>
        <Toggle
          className="h-4 border leading-none"
          label={`${lane.name} solo`}
          title="Solo (S)"
          pressed={lane.solo}
          onClick={onSolo}
        >
          solo
        </Toggle>
      </div>
    </div>
  );
});
