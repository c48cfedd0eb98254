'use client';
import { FileText } from 'lucide-react';
import Link from 'next/link';
import { useEffect, useMemo, useRef, useState } from 'react';
import { VERDICTS } from '@/contract/entry';
import { proofPlaces } from '@/core/rhythm/drift';
import { signInAs, useCurators } from '../../api/curators';
import { Button, buttonClass } from '../../kit/Button';
import { Labelled, TextField } from '../../kit/Field';
import { useWalk, type Verdict } from './useWalk';
import { useBenchModel } from '../useBenchModel';
import { Segmented } from '../../kit/Segmented';
import { useShortcuts } from '../../kit/shortcuts';
import { useAction } from '../../kit/useAction';
import { PROOF } from '../../shortcuts/shortcutTables';
import { isProofAsked } from './beginProof';
import { CheckBox } from './CheckBox';
import { Places } from './Places';
import { Proofs } from './Proofs';

/** The check against the click: places to listen to with their figures, a verdict, a signature. */
export function ProofCard() {
  const { bench, view, settling } = useBenchModel();
  const { show } = view;
  const { entry, grid, pinned } = bench;
  const onsets = entry.measurement?.onsets;
  const duration = entry.measurement?.durationSeconds ?? 0;
  const places = useMemo(
    () => (pinned && onsets ? proofPlaces(onsets, pinned.grid, duration) : []),
    [pinned, onsets, duration],
  );
  const walk = useWalk(bench, places, settling, show);
  // Shown by its key: the first place plays at once.
  const { begin } = walk;
  const begins = useRef<boolean | null>(null);
  useEffect(() => {
    begins.current ??= isProofAsked();
    if (!begins.current || places.length === 0) return;
    begins.current = false;
    begin();
  }, [begin, places]);
  const { me, curators } = useCurators();
  const [typed, setSigner] = useState<string | null>(null);
  const signer = typed ?? (me?.named ? me.name : '');
  const [verdict, setVerdict] = useState<Verdict | null>(null);

  const { act: sign } = useAction({
    run: async () => {
      if (!verdict || entry.sequence === null) return;
      await signInAs(signer);
      const isStored = await bench.order(
        { do: 'prove', verdict, heard: [...walk.heard] },
        `proof: the click is ${verdict}`,
        `Proof signed: the click is ${verdict}.`,
      );
      if (isStored) setVerdict(null);
    },
    renews: ['curators'],
  });
  const answer = (given: Verdict) => {
    const isLast = places.every(
      ({ label }) =>
        label === walk.at?.label || walk.heard.some((place) => place.label === label && place.verdict),
    );
    if (given === 'on' && isLast) setVerdict('on');
    walk.answer(given);
  };

  const give = (given: Verdict) => () => walk.at && answer(given);
  useShortcuts(PROOF, {
    next: () => grid && walk.begin(),
    on: give('on'),
    late: give('late'),
    early: give('early'),
    sign: () => verdict && sign(),
  });
  if (!grid)
    return (
      <p className="p-2 text-small text-ink-soft">
        There is no tempo to check against a click. Type or tap one first.
      </p>
    );

  return (
    <div className="space-y-3 text-small">
      <CheckBox walk={walk} places={places} onAnswer={answer} />
      <Places places={places} walk={walk} />
      <div className="flex items-center gap-1.5">
        <span className="text-ink-soft">The click is</span>
        <Segmented label="Verdict" isBare value={verdict} options={VERDICTS} onChange={setVerdict} />
      </div>
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          sign();
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
        <p className="text-look">You have not listened yet: this will be a proof by figures only.</p>
      )}
      <Proofs proofs={entry.proofs} />
      <Link href={`/bench/${entry.summary.sampleId}/sheet`} className={buttonClass()}>
        <FileText className="size-3.5" aria-hidden /> Proof sheet
      </Link>
    </div>
  );
}
