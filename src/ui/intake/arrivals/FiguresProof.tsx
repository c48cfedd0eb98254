'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { ShieldCheck } from 'lucide-react';
import { useState } from 'react';
import type { FiguresProofResult } from '@/contract/orders';
import { signInAs, useCurators } from '../../api/curators';
import { fetchTargets, proveByFigures } from '../../api/intake';
import { Button } from '../../pieces/Button';
import { Labelled, TextField } from '../../pieces/Field';
import { keepKeysFree } from '../../pieces/pressedByMouse';

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
    <Popover className="relative">
      <PopoverButton
        onMouseDown={keepKeysFree}
        className="inline-flex h-7 items-center gap-1.5 border border-rule-strong bg-sheet px-2.5 text-small hover:bg-wash-ink"
      >
        <ShieldCheck className="size-4" aria-hidden /> Prove by figures …
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom end', gap: 6 }}
        className="z-20 w-96 space-y-2 border border-ink bg-paper p-3 text-small"
      >
        <ProofForm {...props} />
      </PopoverPanel>
    </Popover>
  );
}

function ProofForm({ text, kind }: Props) {
  const queries = useQueryClient();
  const { me } = useCurators();
  const [typed, setSigner] = useState<string | null>(null);
  const signer = typed ?? (me?.named ? me.name : '');
  const [result, setResult] = useState<FiguresProofResult | null>(null);
  const [error, setError] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { data: sure = [] } = useQuery({
    queryKey: ['intake', 'sure', text, kind],
    queryFn: () => fetchTargets(new URLSearchParams({ show: 'sure', text, kind })),
  });
  const wanted = sure.slice(0, MOST);
  const prove = async () => {
    setBusy(true);
    setError(null);
    try {
      await signInAs(signer);
      setResult(await proveByFigures(wanted.map(({ sampleId }) => sampleId)));
      await queries.invalidateQueries();
    } catch (failure) {
      setError((failure as Error).message);
    } finally {
      setBusy(false);
    }
  };
  if (result)
    return (
      <>
        <p role="status">
          <b>{result.proved}</b> proved by their figures
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
        void prove();
      }}
    >
      <p>
        <b className="figures">{wanted.length}</b> of the listed samples are measured and need no look. Those
        whose hits lie on their grid from beginning to end are proved without an ear, and are shown as such.
      </p>
      <div className="flex items-end gap-2">
        <Labelled label="Signed by" className="flex-1">
          <TextField value={signer} maxLength={80} onChange={(event) => setSigner(event.target.value)} />
        </Labelled>
        <Button type="submit" tone="strong" disabled={busy || wanted.length === 0 || signer.trim() === ''}>
          {busy ? 'Proving …' : 'Prove'}
        </Button>
      </div>
      {error && <p className="text-one">{error}</p>}
    </form>
  );
}
