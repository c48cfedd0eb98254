'use client';
import clsx from 'clsx';
import { Ear, ShieldAlert, ShieldCheck } from 'lucide-react';
import { useMemo, useState } from 'react';
import { VERDICTS, type StoredProof } from '@/core/library/entry';
import { proofPlaces, type ProofPlace } from '@/core/rhythm/drift';
import { player } from '../audio/player';
import { Button } from '../pieces/Button';
import { Labelled, TextField } from '../pieces/Field';
import { signedText } from '../pieces/figures';
import type { Bench } from './useBench';
import type { View } from './useView';

const SIGNER = 'grento-signer';

/** The check against the click: three places to listen to with their figures, a verdict, a signature. */
export function ProofCard({ bench, view }: { bench: Bench; view: View }) {
  const { entry, grid } = bench;
  const onsets = entry.measurement?.onsets;
  const duration = entry.measurement?.durationSeconds ?? 0;
  const places = useMemo(
    () => (grid && onsets ? proofPlaces(onsets, grid, duration) : []),
    [grid, onsets, duration],
  );
  // What was heard counts for the revision that it was heard with.
  const [heard, setHeard] = useState<{ sequence: number | null; labels: string[] }>({
    sequence: null,
    labels: [],
  });
  const labels = heard.sequence === entry.sequence ? heard.labels : [];
  const [signer, setSigner] = useState(() =>
    typeof localStorage === 'undefined' ? '' : (localStorage.getItem(SIGNER) ?? ''),
  );
  const [verdict, setVerdict] = useState<(typeof VERDICTS)[number] | null>(null);

  if (!grid)
    return (
      <p className="p-2 text-small text-ink-soft">
        Without a tempo there is nothing to prove against a click. Type or tap one first.
      </p>
    );

  const listen = (place: ProofPlace) => {
    player.setClick({ on: true });
    player.setLoop(null);
    const margin = (place.to - place.from) * 0.1;
    view.show(place.from - margin, place.to + margin);
    void player.play(place.from);
    setHeard({ sequence: entry.sequence, labels: [...new Set([...labels, place.label])] });
  };
  const sign = async () => {
    if (!verdict || entry.sequence === null) return;
    localStorage.setItem(SIGNER, signer.trim());
    const base = entry.sequence;
    const ok = await bench.run(
      () =>
        import('../api/client').then(({ api }) =>
          api.prove(entry.summary.sampleId, { base, verdict, signedBy: signer, heard: labels }),
        ),
      `Proof signed: the click is ${verdict}.`,
    );
    if (ok) setVerdict(null);
  };

  return (
    <div className="space-y-3 text-small">
      <table className="w-full border-collapse">
        <caption className="pb-1 text-left text-ink-soft">
          Listen at each place with the click, then say what you heard.
        </caption>
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
            <tr key={place.label} className="h-9 border-b border-rule">
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
                <Button
                  className="w-24"
                  aria-label={`Listen at the ${place.label}`}
                  pressed={labels.includes(place.label)}
                  onClick={() => listen(place)}
                >
                  <Ear className="size-3.5" aria-hidden /> {labels.includes(place.label) ? 'heard' : 'listen'}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
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
            onChange={(event) => setSigner(event.target.value)}
          />
        </Labelled>
        <Button type="submit" tone="strong" disabled={!verdict || signer.trim() === ''}>
          Sign the proof
        </Button>
      </form>
      {labels.length === 0 && verdict && (
        <p className="text-look">Nothing was listened to yet: this will be a proof by figures only.</p>
      )}
      <Proofs proofs={entry.proofs} />
    </div>
  );
}

function Proofs({ proofs }: { proofs: StoredProof[] }) {
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
              {proof.byEar
                ? `heard at ${proof.places.filter((place) => place.heard).length} of ${proof.places.length} places`
                : 'by figures only'}
              {!proof.current && '; out of date: the grid was changed afterwards'}
            </div>
          </div>
        </li>
      ))}
    </ul>
  );
}
