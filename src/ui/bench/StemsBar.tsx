'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { changeStemSet, fetchSetOf } from '../api/stemSets';
import { engine } from '../audio/engine';
import { soundings, type StemGain } from '../audio/stemGains';
import { useEngine } from '../audio/useEngine';
import { Button } from '../kit/Button';
import { percentText } from '@/words/figures';
import { keepKeysFree } from '../kit/pressedByMouse';
import { Toggle } from '../kit/Toggle';
import { useAction } from '../kit/useAction';
import { useBenchModel } from './useBenchModel';

const NEITHER: StemGain = { mute: false, solo: false };

/** The other stems of the sample's set: hear them together, alone or without one, and go to another. */
export function StemsBar() {
  const { bench } = useBenchModel();
  const router = useRouter();
  const { sampleId, stemSet } = bench.entry.summary;
  const { data: set } = useQuery({
    queryKey: ['stems', 'of', sampleId],
    queryFn: ({ signal }) => fetchSetOf(sampleId, signal),
    enabled: stemSet !== null,
  });
  const [gains, setGains] = useState<Readonly<Record<string, StemGain>>>({});
  const [together, setTogether] = useState(false);
  const loaded = useEngine((state) => state.loadedBeside);
  const members = set?.members;
  useEffect(() => {
    if (together && members) engine.soundTogether(soundings(members, gains));
  }, [together, members, gains]);
  useEffect(() => {
    if (together) return () => engine.soundTogether(null);
  }, [together]);

  const join = useAction({
    run: (setId: string) => changeStemSet(setId, { state: 'joined' }),
    says: () => 'The stems now share start, grid and key.',
  });
  if (!set || set.members.length < 2 || !bench.entry.measurement) return null;

  return (
    <section
      aria-label={`Stems of ${set.name}`}
      className="flex h-9 shrink-0 items-center gap-2 overflow-x-auto border-b border-rule bg-sheet px-3 text-small"
    >
      <span className="shrink-0 font-semibold">{set.name}</span>
      {set.state === 'proposed' ? (
        <Button onClick={() => join.act(set.setId)}>Join as stem set</Button>
      ) : null}
      <Button pressed={together} onClick={() => setTogether(!together)}>
        {!together ? 'Play all stems' : loaded < 1 ? `Loading ${percentText(loaded)}` : 'Playing all stems'}
      </Button>
      {set.members.map((member) => {
        const gain = gains[member.sampleId] ?? NEITHER;
        const here = member.sampleId === sampleId;
        const put = (patch: Partial<StemGain>) =>
          setGains({ ...gains, [member.sampleId]: { ...gain, ...patch } });
        return (
          <span
            key={member.sampleId}
            className={clsx(
              'flex shrink-0 items-center border',
              here ? 'border-ink' : 'border-rule-strong',
              together && gain.mute && !gain.solo && 'opacity-60',
            )}
          >
            <button
              type="button"
              onMouseDown={keepKeysFree}
              className={clsx('max-w-44 truncate px-2 leading-6', here && 'font-semibold')}
              aria-label={withoutEnding(member.name)}
              title={here ? member.name : `Open ${member.name}`}
              onClick={() => !here && router.push(`/bench/${member.sampleId}`)}
            >
              {inSet(member.name, set.name)}
            </button>
            <Toggle
              className="border-l leading-6"
              label={`Mute ${member.name}`}
              pressed={gain.mute}
              onClick={() => put({ mute: !gain.mute })}
            >
              mute
            </Toggle>
            <Toggle
              className="border-l leading-6"
              label={`Solo ${member.name}`}
              pressed={gain.solo}
              onClick={() => put({ solo: !gain.solo })}
            >
              solo
            </Toggle>
          </span>
        );
      })}
    </section>
  );
}

const withoutEnding = (name: string) => name.replace(/\.[a-z0-9]+$/i, '');

/** A stem's name without that of its piece, which stands at the beginning of the bar. */
function inSet(name: string, piece: string): string {
  const whole = withoutEnding(name);
  const rest = whole.toLowerCase().startsWith(piece.toLowerCase())
    ? whole.slice(piece.length).replace(/^[\s\-_]+/, '')
    : whole;
  return rest || whole;
}
