'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { toast } from 'sonner';
import type { StemSet } from '@/contract/stemSets';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { changeStemSet, fetchStemSets } from '../../api/stemSets';
import { engine } from '../../audio/engine';
import { Button } from '../../pieces/Button';
import { bpmText, lengthText } from '../../pieces/figures';
import { Thumbnail } from '../../trace/Thumbnail';

/** Sets of stems: proposed ones first, with why they belong together and who speaks for the set. */
export function StemSetsScreen() {
  const { data, isPending, error } = useQuery({
    queryKey: ['stems'],
    queryFn: ({ signal }) => fetchStemSets(signal),
  });
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <p className="mb-3 max-w-3xl text-small text-ink-soft">
        Stems of one piece share their start, grid and key. The stem with the clearest rhythm gives the grid,
        the one with the clearest tones the key; silence at the beginning stays, because it keeps them
        together.
      </p>
      {error && <p className="text-one">{error.message}</p>}
      {isPending && <p className="text-ink-soft">Fetching the sets …</p>}
      {data?.length === 0 && (
        <p className="p-8 text-center text-ink-soft">
          No stems have been recognised. Samples can also be joined by hand: choose them among the arrivals
          and press J.
        </p>
      )}
      <div className="space-y-5">
        {data?.map((set) => (
          <SetCard key={set.setId} set={set} />
        ))}
      </div>
    </div>
  );
}

function SetCard({ set }: { set: StemSet }) {
  const router = useRouter();
  const queries = useQueryClient();
  const { setId, name, state, reasons, members } = set;
  const change = (what: Parameters<typeof changeStemSet>[1], words?: string) =>
    void changeStemSet(setId, what)
      .then(() => {
        if (words) toast(words);
        return queries.invalidateQueries();
      })
      .catch((error: Error) => toast.error(error.message));
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
          <Button onClick={() => change({ state: 'refused' }, `“${name}” is no set.`)}>
            {state === 'proposed' ? 'These are no stems' : 'Part the set'}
          </Button>
          <Button
            onClick={() =>
              router.push(
                `/bench/${members.find(({ givesGrid }) => givesGrid)?.sampleId ?? members[0].sampleId}`,
              )
            }
          >
            To the Bench
          </Button>
        </span>
      </div>
      <table className="w-full table-fixed border-collapse text-small">
        <thead className="text-left text-tiny text-ink-soft">
          <tr className="border-y border-rule [&>th]:py-1 [&>th]:font-normal">
            <th className="w-40">Whole length</th>
            <th className="pl-3">Name</th>
            <th className="w-20 text-right">BPM</th>
            <th className="w-24 pl-4">Key</th>
            <th className="w-[22rem] pl-2">Gives the grid: clearest rhythm first</th>
            <th className="w-64 pl-2">Gives the key</th>
            <th className="w-24" />
          </tr>
        </thead>
        <tbody>
          {members.map((member) => (
            <tr key={member.sampleId} className="h-11 border-b border-rule">
              <td>
                <Thumbnail
                  sampleId={member.sampleId}
                  thumbnail={member.thumbnail}
                  durationSeconds={member.durationSeconds}
                  name={member.name}
                />
              </td>
              <td className="truncate pl-3 font-medium" title={member.name}>
                {member.name}
                {member.soundsFrom !== null && member.soundsFrom > 1 && (
                  <span className="block text-tiny font-normal text-ink-soft">
                    sounds from <span className="figures">{member.soundsFrom.toFixed(1)} s</span> on
                  </span>
                )}
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
                  Take out
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

/** How a stem's tempo stands to that of the one that gives the grid; nothing where they agree. */
function tempoBeside({ tempoBpm }: Member, giver: Member | undefined): string | null {
  if (tempoBpm === null || !giver?.tempoBpm) return null;
  const { agrees, words } = tempoRelation(tempoBpm, giver.tempoBpm);
  return agrees ? null : words;
}

function keyBeside({ key }: Member, giver: Member | undefined): string | null {
  return key === null || !giver?.key || key === giver.key ? null : 'differs';
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
        <input
          type="radio"

          name={name}
          aria-label={label}
          checked={checked}
          onChange={onChoose}
        />
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
