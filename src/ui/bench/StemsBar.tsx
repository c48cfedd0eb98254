'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import { changeStemSet, fetchSetOf } from '../api/stemSets';
import { player } from '../audio/player';
import { makeStemMix, type StemGain, type StemMix } from '../audio/stemMix';
import { Button } from '../pieces/Button';
import { percentText } from '../pieces/figures';
import { keepKeysFree } from '../pieces/pressedByMouse';
import type { Bench } from './useBench';

/** The other stems of the sample's set: hear them together, alone or without one, and go to another. */
export function StemsBar({ bench }: { bench: Bench }) {
  const router = useRouter();
  const { sampleId, stemSet } = bench.entry.summary;
  const { data: set } = useQuery({
    queryKey: ['stems', 'of', sampleId],
    queryFn: ({ signal }) => fetchSetOf(sampleId, signal),
    enabled: stemSet !== null,
  });
  const [gains, setGains] = useState<readonly StemGain[]>([]);
  const [share, setShare] = useState<number | null>(null);
  const [together, setTogether] = useState(false);
  const mix = useRef<StemMix | null>(null);
  const loading = useRef<AbortController | null>(null);

  useEffect(
    () => () => {
      loading.current?.abort();
      player.hearInstead(null);
    },
    [sampleId],
  );

  const change = useCallback((next: readonly StemGain[]) => {
    setGains(next);
    mix.current?.setGains(next);
  }, []);

  if (!set || set.members.length < 2 || !bench.audio) return null;
  const current = gains.length
    ? gains
    : set.members.map((member) => ({ sampleId: member.sampleId, mute: false, solo: false }));

  const hear = async () => {
    if (together) {
      player.hearInstead(null);
      return setTogether(false);
    }
    loading.current = new AbortController();
    setShare(0);
    try {
      mix.current ??= await makeStemMix(current, bench.audio!.playRate, setShare, loading.current.signal);
      mix.current.setGains(current);
      player.hearInstead(mix.current.channels);
      setTogether(true);
    } catch (error) {
      if ((error as Error).name !== 'AbortError') toast.error((error as Error).message);
    } finally {
      setShare(null);
    }
  };

  return (
    <section
      aria-label={`Stems of ${set.name}`}
      className="flex h-9 shrink-0 items-center gap-2 overflow-x-auto border-b border-rule bg-sheet px-3 text-small"
    >
      <span className="shrink-0 font-semibold">{set.name}</span>
      {set.state === 'proposed' ? (
        <Button
          onClick={() =>
            void changeStemSet(set.setId, { state: 'joined' })
              .then(() => toast('The stems share start, grid and key now.'))
              .catch((error: Error) => toast.error(error.message))
          }
        >
          Join this set
        </Button>
      ) : null}
      <Button pressed={together} onClick={() => void hear()} disabled={share !== null}>
        {share !== null
          ? `Fetching ${percentText(share)}`
          : together
            ? 'Hearing all stems'
            : 'Hear all stems'}
      </Button>
      {set.members.map((member) => {
        const gain = current.find((one) => one.sampleId === member.sampleId) ?? {
          sampleId: member.sampleId,
          mute: false,
          solo: false,
        };
        const here = member.sampleId === sampleId;
        const put = (patch: Partial<StemGain>) =>
          change(current.map((one) => (one.sampleId === member.sampleId ? { ...one, ...patch } : one)));
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
            <Small
              label={`Mute ${member.name}`}
              pressed={gain.mute}
              onClick={() => put({ mute: !gain.mute })}
            >
              mute
            </Small>
            <Small
              label={`Only ${member.name}`}
              pressed={gain.solo}
              onClick={() => put({ solo: !gain.solo })}
            >
              solo
            </Small>
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

function Small({
  label,
  pressed,
  onClick,
  children,
}: {
  label: string;
  pressed: boolean;
  onClick: () => void;
  children: string;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      aria-pressed={pressed}
      onMouseDown={keepKeysFree}
      onClick={onClick}
      className={clsx(
        'border-l border-rule-strong px-1.5 text-tiny leading-6',
        pressed ? 'bg-ink text-paper' : 'text-ink-soft hover:bg-wash-ink',
      )}
    >
      {children}
    </button>
  );
}
