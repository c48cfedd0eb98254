import clsx from 'clsx';
import { ShieldAlert, ShieldCheck } from 'lucide-react';
import { VERDICTS, type StoredProof } from '@/contract/entry';

/** What was heard where, in words: "on at the beginning and the middle, not said at the end". */
function placesWords(places: StoredProof['places']): string {
  const heard = places.filter((place) => place.heard);
  const said = [...VERDICTS, null].flatMap((verdict) => {
    const labels = heard.filter((place) => place.verdict === verdict).map(({ label }) => label);
    return labels.length ? [`${verdict ?? 'not answered'} at ${labels.join(', ')}`] : [];
  });
  return `checked at ${heard.length} of ${places.length} places: ${said.join('; ')}`;
}

export function Proofs({ proofs }: { proofs: readonly StoredProof[] }) {
  if (proofs.length === 0) return <p className="text-ink-soft">Nobody has proved this grid yet.</p>;
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
              {!proof.current && '; out of date: the grid has changed since'}
            </div>
          </div>
        </li>
      ))}
    </ul>
  );
}
