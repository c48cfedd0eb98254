'use client';
import { useQuery } from '@tanstack/react-query';
import { ShieldCheck } from 'lucide-react';
import { useState } from 'react';
import type { FiguresProofResult } from '@/contract/orders';
import { signInAs, useCurators } from '../../api/curators';
import { fetchTargets, proveByFigures } from '../../api/intake';
import { Button } from '../../kit/Button';
import { Labelled, TextField } from '../../kit/Field';
import { Popup } from '../../kit/Popup';
import { useAction } from '../../kit/useAction';

/** At most so many are proved in one go. */
const MOST = 1000;

interface Props {
  /** The text and the kind that the list is narrowed to. */
  text: string;
  kind: string;
}

/** Vouches for all sure samples of the list whose grid fits by its figures; without an ear. */
export function FiguresProof(props: Props) {
  return (
    <Popup
      button={
        <>
          <ShieldCheck className="size-4" aria-hidden /> Prove by figures…
        </>
      }
      width="w-96"
    >
      <ProofForm {...props} />
    </Popup>
  );
}

function ProofForm({ text, kind }: Props) {
  const { me } = useCurators();
  const [typed, setSigner] = useState<string | null>(null);
  const signer = typed ?? (me?.named ? me.name : '');
  const [result, setResult] = useState<FiguresProofResult | null>(null);
  const { data: sure = [] } = useQuery({
    queryKey: ['intake', 'sure', text, kind],
    queryFn: () => fetchTargets(new URLSearchParams({ show: 'sure', text, kind })),
  });
  const wanted = sure.slice(0, MOST);
  const prove = useAction({
    run: async () => {
      await signInAs(signer);
      return proveByFigures(wanted.map(({ sampleId }) => sampleId));
    },
    then: setResult,
  });
  if (result)
    return (
      <>
        <p role="status">
          <b>{result.proved}</b> proved by figures
          {result.refused.length > 0 && `; ${result.refused.length} not:`}
        </p>
        <ul className="max-h-48 space-y-1 overflow-y-auto">
          {result.refused.map(({ name, why }) => (
            <li key={name}>
              <b>{name}</b> <span className="text-ink-soft">{why}</span>
            </li>
          ))}
        </ul>
      </>
    );
  return (
    <form
      className="space-y-2"
      onSubmit={(event) => {
        event.preventDefault();
        prove.act();
      }}
    >
      <p>
        <b className="figures">{wanted.length}</b> of the listed samples are measured and certain. Those whose
        hits match their grid from start to end are proved by figures, without listening, and marked as such.
      </p>
      <div className="flex items-end gap-2">
        <Labelled label="Signed by" className="flex-1">
          <TextField value={signer} maxLength={80} onChange={(event) => setSigner(event.target.value)} />
        </Labelled>
        <Button
          type="submit"
          tone="strong"
          disabled={prove.isBusy || wanted.length === 0 || signer.trim() === ''}
        >
          {prove.isBusy ? 'Proving…' : 'Prove'}
        </Button>
      </div>
    </form>
  );
}
