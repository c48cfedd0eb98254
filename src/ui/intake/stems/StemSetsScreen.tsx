'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import type { StemSet } from '@/contract/stemSets';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { changeStemSet, fetchStemSets } from '../../api/stemSets';
import { engine } from '../../audio/engine';
import { Button } from '../../kit/Button';
import { bpmText, lengthText, signedText } from '@/words/figures';
import { counted } from '@/words/plural';
import { Awaited, Empty } from '../../kit/States';
import { useAction } from '../../kit/useAction';
import { RowTrace } from '../../list/cells';

/** Sets of stems: proposed ones first, with why they belong together and who speaks for the set. */
export function StemSetsScreen() {
  const asked = useQuery({ queryKey: ['stems'], queryFn: ({ signal }) => fetchStemSets(signal) });
  const { data } = asked;
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <p className="mb-3 max-w-3xl text-small text-ink-soft">
        Stems of one piece share start, grid and key. The stem with the clearest rhythm gives the grid, the
        one with the clearest pitch gives the key. Silence at the start stays, so that the stems stay aligned.
      </p>
      <Awaited of={asked} what="stem sets" />
      {data?.length === 0 && (
        <Empty>No stems recognized. To join samples by hand, select them in the Intake and press J.</Empty>
      )}
      <div className="space-y-5">
        {data?.map((set) => (
          <SetCard key={set.setId} set={set} />
        ))}
      </div>
    </div>
  );
}

interface Change {
  what: Parameters<typeof changeStemSet>[1];
  words?: string;
}

function SetCard({ set }: { set: StemSet }) {
  const router = useRouter();
  const { setId, name, state, reasons, members } = set;
  const { act } = useAction({
    run: ({ what }: Change) => changeStemSet(setId, what),
    says: (_, { words }) => words ?? null,
  });
  const change = (what: Change['what'], words?: string) => act({ what, words });
  const length = members[0]?.durationSeconds ?? 0;
  const gridGiver = members.find(({ givesGrid }) => givesGrid);
  const keyGiver = members.find(({ givesKey }) => givesKey);
  return (
    <section aria-label={`Stem set ${name}`} className="border-t-2 border-ink">
      <div className="flex items-center gap-3 py-1.5">
        <h2 className="text-lg font-semibold">{name}</h2>
        <span className={clsx('text-small', state === 'proposed' ? 'text-look' : 'text-good')}>
          {state === 'proposed' ? 'proposed' : 'joined'}
        </span>
        <span className="min-w-0 truncate text-small text-ink-soft">
          {members.length} stems of <span className="figures">{lengthText(length)}</span>
          {reasons.length > 0 && `: ${reasons.slice(0, 3).join('; ')}`}
        </span>
        <span className="ml-auto flex gap-1.5">
          {state === 'proposed' && (
            <Button
              tone="strong"
              onClick={() => change({ state: 'joined' }, `“${name}”: the stems share start, grid and key.`)}
            >
              Join as a set
            </Button>
          )}
          <Button onClick={() => change({ state: 'refused' }, `“${name}” is not a stem set.`)}>
            {state === 'proposed' ? 'Not stems' : 'Split the set'}
          </Button>
          <Button
            onClick={() =>
              router.push(
                `/bench/${members.find(({ givesGrid }) => givesGrid)?.sampleId ?? members[0].sampleId}`,
              )
            }
          >
            Open on the Bench
          </Button>
        </span>
      </div>
      {state === 'proposed' && <WhatChanges set={set} />}
      <table className="w-full table-fixed border-collapse text-small">
        <thead className="text-left text-tiny text-ink-soft">
          <tr className="border-y border-rule [&>th]:py-1 [&>th]:font-normal">
            <th className="w-40">Overview</th>
            <th className="pl-3">Name</th>
            <th className="w-20 text-right">BPM</th>
            <th className="w-24 pl-4">Key</th>
            <th className="w-[22rem] pl-2">Gives the grid: clearest rhythm first</th>
            <th className="w-64 pl-2">Gives the key</th>
            <th className="w-24">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {members.map((member) => (
            <tr key={member.sampleId} className="h-11 border-b border-rule">
              <td>
                <RowTrace row={member} />
              </td>
              <td className="truncate pl-3 font-medium" title={member.name}>
                {member.name}
                {member.soundsFrom !== null && member.soundsFrom > 1 && (
                  <span className="block text-tiny font-normal text-ink-soft">
                    starts at <span className="figures">{member.soundsFrom.toFixed(1)} s</span> on
                  </span>
                )}
                <Beside words={oneBeside(member)} />
              </td>
              <td className="text-right">
                <span className="figures">
                  {member.tempoBpm === null ? '–' : bpmText(Math.round(member.tempoBpm * 100) / 100)}
                </span>
                <Beside words={tempoBeside(member, gridGiver)} />
              </td>
              <td className="pl-4">
                {member.key ?? '–'}
                <Beside words={keyBeside(member, keyGiver)} />
              </td>
              <Speaks
                name={`grid-${setId}`}
                label={`${member.name} gives the grid`}
                checked={member.givesGrid}
                rank={member.gridRank}
                reasons={member.gridReasons}
                onChoose={() => change({ gridFrom: member.sampleId })}
              />
              <Speaks
                name={`key-${setId}`}
                label={`${member.name} gives the key`}
                checked={member.givesKey}
                rank={member.keyRank}
                reasons={member.keyReasons}
                onChoose={() => change({ keyFrom: member.sampleId })}
              />
              <td className="text-right">
                <Button tone="quiet" onClick={() => change({ remove: member.sampleId })}>
                  Remove
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

type Member = StemSet['members'][number];

/** What joining will change in each stem, before it is done. */
function WhatChanges({ set: { members } }: { set: StemSet }) {
  const grid = members.find(({ givesGrid }) => givesGrid);
  const key = members.find(({ givesKey }) => givesKey);
  const changes = members.flatMap((member) => {
    const { name, tempoBpm, ownOneMs } = member;
    const all = [
      grid?.tempoBpm &&
        (tempoBpm === null || !tempoRelation(tempoBpm, grid.tempoBpm).agrees) &&
        `${tempoBpm === null ? 'no tempo' : bpmText(Math.round(tempoBpm * 100) / 100)} → ${bpmText(Math.round(grid.tempoBpm * 100) / 100)} BPM`,
      ownOneMs !== null && Math.abs(ownOneMs) >= SAME_ONE_MS && `the one ${signedText(-ownOneMs, 0, 'ms')}`,
      key?.key && member.key !== null && member.key !== key.key && `${member.key} → ${key.key}`,
    ].filter(Boolean);
    return all.length > 0 ? [`${name}: ${all.join(', ')}`] : [];
  });
  return (
    <p className="pb-1 text-small text-ink-soft" role="status">
      {changes.length === 0
        ? 'Joining changes no tempo, no downbeat and no key: the stems agree.'
        : `Joining changes ${counted(changes.length, 'stem')} of ${members.length}: ${changes.join('; ')}.`}
    </p>
  );
}

/** How a stem's tempo stands to that of the one that gives the grid; nothing where they agree. */
function tempoBeside({ tempoBpm }: Member, giver: Member | undefined): string | null {
  if (tempoBpm === null || !giver?.tempoBpm) return null;
  const { agrees, words } = tempoRelation(tempoBpm, giver.tempoBpm);
  return agrees ? null : words;
}

function keyBeside({ key, ownKey }: Member, giver: Member | undefined): string | null {
  if (key !== null && giver?.key && key !== giver.key) return 'differs';
  return key !== null && ownKey !== null && ownKey !== key ? `measured alone: ${ownKey}` : null;
}

/** Ones nearer to each other are the same, ms. */
const SAME_ONE_MS = 50;

function oneBeside({ ownOneMs }: Member): string | null {
  if (ownOneMs === null || Math.abs(ownOneMs) < SAME_ONE_MS) return null;
  return `measured alone, its one is ${Math.round(Math.abs(ownOneMs))} ms ${ownOneMs > 0 ? 'later' : 'earlier'}`;
}

function Beside({ words }: { words: string | null }) {
  return words && <span className="block text-tiny text-look">{words}</span>;
}

function Speaks({
  name,
  label,
  checked,
  rank,
  reasons,
  onChoose,
}: {
  name: string;
  label: string;
  checked: boolean;
  rank: number;
  reasons: string[];
  onChoose: () => void;
}) {
  return (
    <td className="pl-2">
      <label className="flex items-center gap-2">
        <input type="radio" name={name} aria-label={label} checked={checked} onChange={onChoose} />
        <span className="figures w-5 shrink-0 text-ink-soft">{rank + 1}.</span>
        <span
          className={clsx('truncate text-tiny', checked ? 'text-ink' : 'text-ink-soft')}
          title={reasons.join(', ')}
        >
          {reasons.join(', ')}
        </span>
      </label>
    </td>
  );
}
