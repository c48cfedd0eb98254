'use client';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { Check, ChevronDown } from 'lucide-react';
import type { SampleSummary } from '@/contract/entry';
import { NO_CHOICE, proposalFor, type Choice, type Proposal, type Target } from '@/core/timeStretch/proposal';
import { tempoChangeText } from '@/core/timeStretch/tempoChange';
import { choiceOf, fittableRow } from '@/library/samples/aims';
import { chooseAtTarget } from '../api/samples';
import { keepKeysFree } from '../kit/pressedByMouse';
import { useHint } from '../kit/shortcuts';
import { useAction } from '../kit/useAction';
import { SHELF } from '../shortcuts/shortcutTables';
import { semitonesText } from '../target/proposalWords';

interface Props {
  row: SampleSummary;
  proposal: Proposal;
  target: Target;
  /** It is chosen: what sounds should sound like it. */
  onChosen: (row: SampleSummary) => void;
}

/** Beats of the sample to those of the target. */
const LEVEL_NAMES: Readonly<Record<string, string>> = {
  '1': 'as written',
  '2': 'double',
  '0.5': 'half',
  '1.5': '3 : 2',
  [String(2 / 3)]: '2 : 3',
};

/** Where the menu of a row is found by a key. */
export const choiceId = (sampleId: string) => `choice-${sampleId}`;

/** How a sample is brought to the target: the levels of its tempo, and the ways to the key. Kept for the sample at that target. */
export function TargetChoice({ row, proposal, target, onChosen }: Props) {
  const hint = useHint();
  const chosen = choiceOf(row, target);
  const { act: choose } = useAction({
    run: (choice: Choice) => chooseAtTarget(row.sampleId, { target, ...choice }),
    then: () => onChosen(row),
  });
  const { levels, otherWay, semitones } = proposal;
  const own = proposalFor(fittableRow(row), target, NO_CHOICE);
  const ways = otherWay === null ? [] : [semitones, otherWay].sort((a, b) => Math.abs(a) - Math.abs(b));
  if (levels.length < 2 && ways.length === 0) return null;
  const strainOf = (choice: Choice) => proposalFor(fittableRow(row), target, choice).strain;
  const isChosen = chosen.level !== null || chosen.semitones !== null;
  return (
    <Menu>
      <MenuButton
        id={choiceId(row.sampleId)}
        tabIndex={-1}
        onMouseDown={keepKeysFree}
        onClick={(event) => event.stopPropagation()}
        aria-label={`How ${row.name} is matched to the target`}
        title={hint(SHELF.choice)}
        className="inline-flex items-center hover:bg-wash-ink"
      >
        {isChosen && <span className="text-tiny">by hand</span>}
        <ChevronDown className="size-3.5" aria-hidden />
      </MenuButton>
      <MenuItems
        anchor={{ to: 'bottom end', gap: 2 }}
        className="z-30 min-w-72 border border-ink bg-paper py-1 text-small"
      >
        {levels.map((level) => (
          <Item
            key={level}
            isOn={proposal.level === level}
            words={tempoChangeText(row.tempoBpm!, target.tempoBpm!, level)}
            more={LEVEL_NAMES[String(level)] ?? ''}
            strain={strainOf({ level, semitones: chosen.semitones })}
            onChoose={() =>
              choose({ level: level === own.level ? null : level, semitones: chosen.semitones })
            }
          />
        ))}
        {levels.length > 0 && ways.length > 0 && <hr className="my-1 border-rule" />}
        {ways.map((way) => (
          <Item
            key={way}
            isOn={semitones === way}
            words={`${semitonesText(way)} semitones`}
            more=""
            strain={strainOf({ level: chosen.level, semitones: way })}
            onChoose={() => choose({ level: chosen.level, semitones: way === own.semitones ? null : way })}
          />
        ))}
        {isChosen && (
          <>
            <hr className="my-1 border-rule" />
            <Item
              isOn={false}
              words="Automatic"
              more=""
              strain={own.strain}
              onChoose={() => choose(NO_CHOICE)}
            />
          </>
        )}
      </MenuItems>
    </Menu>
  );
}

function Item({
  isOn,
  words,
  more,
  strain,
  onChoose,
}: {
  isOn: boolean;
  words: string;
  more: string;
  strain: number;
  onChoose: () => void;
}) {
  return (
    <MenuItem>
      <button
        type="button"
        className="flex w-full items-center gap-2 px-2 py-0.5 text-left data-focus:bg-wash-ink"
        onClick={(event) => {
          event.stopPropagation();
          onChoose();
        }}
      >
        <Check className={isOn ? 'size-3.5' : 'invisible size-3.5'} aria-hidden />
        <span className="figures">{words}</span>
        <span className="text-ink-soft">{more}</span>
        <span className="figures ml-auto pl-4 text-tiny text-ink-soft">strain {strain.toFixed(2)}</span>
      </button>
    </MenuItem>
  );
}
