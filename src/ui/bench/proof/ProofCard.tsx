'use client';
import clsx from 'clsx';
import { Ear, FileText, Footprints, ShieldAlert, ShieldCheck } from 'lucide-react';
import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { VERDICTS, type StoredProof } from '@/contract/entry';
import { proofPlaces, type ProofPlace } from '@/core/rhythm/drift';
import { signInAs, useCurators } from '../../api/curators';
import { Button } from '../../pieces/Button';
import { Labelled, TextField } from '../../pieces/Field';
import { signedText } from '../../pieces/figures';
import type { Bench } from '../useBench';
import type { Settling } from '../useSettling';
import type { View } from '../useView';
import { character, key, useKeys, type KeyAction } from '../../shell/keys';
import { useWalk, type HeardPlace, type Verdict, type Walk } from './useWalk';

interface Props {
  bench: Bench;
  show: View['show'];
  settling: Settling;
}

/** The check against the click: places to listen to with their figures, a verdict, a signature. */
export function ProofCard({ bench, show, settling }: Props) {
  const { entry, grid, pinned } = bench;
  const queries = useQueryClient();
  const onsets = entry.measurement?.onsets;
  const duration = entry.measurement?.durationSeconds ?? 0;
  const places = useMemo(
    () => (pinned && onsets ? proofPlaces(onsets, pinned.grid, duration) : []),
    [pinned, onsets, duration],
  );
  const walk = useWalk(bench, places, settling, show);
  const { me, curators } = useCurators();
  const [typed, setSigner] = useState<string | null>(null);
  const signer = typed ?? (me?.named ? me.name : '');
  const [verdict, setVerdict] = useState<Verdict | null>(null);

  const sign = async () => {
    if (!verdict || entry.sequence === null) return;
    try {
      await signInAs(signer);
      await queries.invalidateQueries({ queryKey: ['curators'] });
    } catch (error) {
      return void toast.error((error as Error).message);
    }
    const ok = await bench.order(
      { do: 'prove', verdict, heard: [...walk.heard] },
      `proof: the click is ${verdict}`,
      `Proof signed: the click is ${verdict}.`,
    );
    if (ok) setVerdict(null);
  };
  const answer = (given: Verdict) => {
    const isLast = places.every(
      ({ label }) =>
        label === walk.at?.label || walk.heard.some((place) => place.label === label && place.verdict),
    );
    if (given === 'on' && isLast) setVerdict('on');
    walk.answer(given);
  };

  useKeys(proofKeys({ walk, verdict, answer, sign, hasGrid: grid !== null }));
  if (!grid)
    return (
      <p className="p-2 text-small text-ink-soft">
        Without a tempo there is nothing to prove against a click. Type or tap one first.
      </p>
    );

  return (
    <div className="space-y-3 text-small">
      <WalkBox walk={walk} places={places} onAnswer={answer} />
      <Places places={places} walk={walk} />
      <div role="radiogroup" aria-label="Verdict" className="flex items-center gap-1.5">
        <span className="text-ink-soft">The click is</span>
        {VERDICTS.map((choice) => (
          <Button
            key={choice}
            role="radio"
            aria-checked={verdict === choice}
            pressed={verdict === choice}
            onClick={() => setVerdict(choice)}
          >
            {choice}
          </Button>
        ))}
      </div>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void sign();
        }}
      >
        <Labelled label="Signed by" className="flex-1">
          <TextField
            value={signer}
            maxLength={80}
            placeholder="your name"
            list="curators"
            onChange={(event) => setSigner(event.target.value)}
          />
        </Labelled>
        <datalist id="curators">
          {curators
            .filter(({ named }) => named)
            .map(({ curatorId, name }) => (
              <option key={curatorId} value={name} />
            ))}
        </datalist>
        <Button type="submit" tone="strong" disabled={!verdict || signer.trim() === ''}>
          Sign the proof
        </Button>
      </form>
      {walk.heard.length === 0 && verdict && (
        <p className="text-look">Nothing was listened to yet: this will be a proof by figures only.</p>
      )}
      <Proofs proofs={entry.proofs} />
      <Link
        href={`/bench/${entry.summary.sampleId}/sheet`}
        className="inline-flex h-7 items-center gap-1.5 border border-rule-strong px-2.5 hover:bg-wash-ink"
      >
        <FileText className="size-3.5" aria-hidden /> Proof sheet
      </Link>
    </div>
  );
}

interface Keyed {
  walk: Walk;
  verdict: Verdict | null;
  answer: (verdict: Verdict) => void;
  sign: () => Promise<void>;
  hasGrid: boolean;
}

/** The keys of the proof, while its card is in sight. */
function proofKeys({ walk, verdict, answer, sign, hasGrid }: Keyed): KeyAction[] {
  const group = 'Proof';
  const heard = (given: Verdict) => () => walk.at && answer(given);
  return [
    {
      keys: 'G',
      does: 'Go to the next place that nobody has said anything of',
      group,
      matches: character('g'),
      run: () => hasGrid && walk.begin(),
    },
    { keys: 'Y', does: 'At the place: the click is on', group, matches: character('y'), run: heard('on') },
    { keys: 'Shift + E', does: '… is late', group, matches: key('Shift+KeyE'), run: heard('late') },
    { keys: 'E', does: '… is early', group, matches: key('KeyE'), run: heard('early') },
    {
      keys: 'Ctrl + Enter',
      does: 'Sign the proof',
      group,
      matches: key('Ctrl+Enter'),
      run: () => verdict && void sign(),
    },
  ];
}

/** The walk: one place after the other, each until the click is on. */
function WalkBox({
  walk,
  places,
  onAnswer,
}: {
  walk: Walk;
  places: readonly ProofPlace[];
  onAnswer: (verdict: Verdict) => void;
}) {
  const { at, begin, end } = walk;
  if (!at)
    return (
      <Button tone="strong" className="w-full" onClick={begin}>
        <Footprints className="size-3.5" aria-hidden /> Walk through {places.length} places
      </Button>
    );
  const number = places.findIndex((place) => place.label === at.label) + 1;
  return (
    <div role="group" aria-label="Walk" className="space-y-1.5 border border-ink bg-sheet p-2">
      <p>
        <b>
          {number} of {places.length}: {at.label}
        </b>
        , from {at.from.toFixed(1)} s; it goes round with the click. The click is
      </p>
      <div className="flex gap-1.5">
        <Button onClick={() => onAnswer('early')}>early</Button>
        <Button tone="strong" onClick={() => onAnswer('on')}>
          on
        </Button>
        <Button onClick={() => onAnswer('late')}>late</Button>
        <Button tone="quiet" className="ml-auto" onClick={end}>
          Leave the walk
        </Button>
      </div>
      <p className="text-tiny text-ink-soft">
        {at.label === 'beginning'
          ? 'Early and late move the one a little and repeat.'
          : 'Early and late turn the tempo a little about the one and repeat.'}
      </p>
    </div>
  );
}

function Places({ places, walk }: { places: readonly ProofPlace[]; walk: Walk }) {
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Places of the proof and their figures</caption>
      <thead>
        <tr className="border-b border-rule-strong text-left text-tiny text-ink-soft">
          <th className="font-normal">Place</th>
          <th className="text-right font-normal">Hits</th>
          <th className="text-right font-normal">Hit − click</th>
          <th className="text-right font-normal">Spread</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {places.map((place) => (
          <tr
            key={place.label}
            className={clsx('h-9 border-b border-rule', walk.at?.label === place.label && 'bg-wash-ink')}
          >
            <th scope="row" className="text-left font-semibold">
              {place.label}
              <div className="figures text-tiny font-normal text-ink-soft">{place.from.toFixed(1)} s</div>
            </th>
            <td className="figures text-right">{place.hits}</td>
            <td
              className={clsx(
                'figures text-right font-semibold',
                place.medianMs !== null && Math.abs(place.medianMs) > 12 && 'text-look',
              )}
            >
              {place.medianMs === null ? '–' : signedText(place.medianMs, 1, 'ms')}
            </td>
            <td className="figures text-right">
              {place.spreadMs === null ? '–' : `${place.spreadMs.toFixed(1)} ms`}
            </td>
            <td className="pl-2 text-right">
              <ListenButton
                label={place.label}
                heard={walk.heard.find(({ label }) => label === place.label)}
                onListen={() => walk.listen(place)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function ListenButton({
  label,
  heard,
  onListen,
}: {
  label: string;
  heard: HeardPlace | undefined;
  onListen: () => void;
}) {
  const words = heard ? (heard.verdict ?? 'heard') : 'listen';
  return (
    <Button
      className="w-24"
      aria-label={`Listen at the ${label}${heard ? `, ${words}` : ''}`}
      pressed={Boolean(heard)}
      onClick={onListen}
    >
      <Ear className="size-3.5" aria-hidden /> {words}
    </Button>
  );
}

/** What was heard where, in words: "on at the beginning and the middle, not said at the end". */
function placesWords(places: StoredProof['places']): string {
  const heard = places.filter((place) => place.heard);
  const said = [...VERDICTS, null].flatMap((verdict) => {
    const labels = heard.filter((place) => place.verdict === verdict).map(({ label }) => label);
    return labels.length ? [`${verdict ?? 'without a word'} at ${labels.join(', ')}`] : [];
  });
  return `heard at ${heard.length} of ${places.length} places: ${said.join('; ')}`;
}

export function Proofs({ proofs }: { proofs: readonly StoredProof[] }) {
  if (proofs.length === 0) return <p className="text-ink-soft">Nobody has vouched for this grid yet.</p>;
  return (
    <ul aria-label="Proofs" className="space-y-1">
      {proofs.map((proof) => (
        <li
          key={proof.proofId}
          className={clsx(
            'flex gap-2 border-l-2 py-0.5 pl-2',
            proof.current ? 'border-good' : 'border-rule-strong text-ink-soft',
          )}
        >
          {proof.current ? (
            <ShieldCheck className="mt-0.5 size-4 shrink-0 text-good" aria-hidden />
          ) : (
            <ShieldAlert className="mt-0.5 size-4 shrink-0" aria-hidden />
          )}
          <div>
            <b>{proof.verdict}</b>, {proof.signedBy}, {new Date(proof.signedAt).toLocaleString()}
            <div className="text-tiny">
              {proof.byEar ? placesWords(proof.places) : 'by figures only'}
              {!proof.current && '; out of date: the grid was changed afterwards'}
            </div>
          </div>
        </li>
      ))}
    </ul>
  );
}
