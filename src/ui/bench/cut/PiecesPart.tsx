'use client';
import { useMemo, useState } from 'react';
import type { Recipe } from '@/core/recipes/recipe';
import { piecesOf, type Pieces } from '@/library/recipes/pieces';
import { barsUntil } from '@/core/rhythm/grid';
import { Button } from '../../pieces/Button';
import { Labelled, TextField } from '../../pieces/Field';
import type { Bench } from '../useBench';
import { Choice, NumberIn } from './OptionFields';
import type { Cut } from './useCut';

const PIECE_NAME = '{name} {number}';

/** Cuts the sample in pieces, at every so many bars or at every hit, in one go. */
export function PiecesPart({
  bench,
  cut,
  onMake,
}: {
  bench: Bench;
  cut: Cut;
  onMake: (recipes: readonly Recipe[]) => Promise<void>;
}) {
  const { entry, grid } = bench;
  const most = grid ? barsUntil(grid, entry.summary.durationSeconds ?? 0) : 0;
  const [at, setAt] = useState<Pieces['at']>('bars');
  const [bars, setBars] = useState(1);
  const [least, setLeast] = useState(100);
  const [strength, setStrength] = useState(4);
  const [longest, setLongest] = useState(2);
  const [template, setTemplate] = useState(PIECE_NAME);
  const { write, pitch } = cut.draft;
  const found = useMemo((): { recipes: Recipe[]; fault: string | null } => {
    const pieces: Pieces =
      at === 'bars'
        ? { at, bars, firstBar: 1, lastBar: most }
        : { at, leastSeconds: least / 1000, strength, longestSeconds: longest };
    try {
      return { recipes: piecesOf(entry, pieces, { write, pitch }, template), fault: null };
    } catch (error) {
      return { recipes: [], fault: (error as Error).message };
    }
  }, [entry, at, bars, most, least, strength, longest, template, write, pitch]);
  const { recipes, fault } = found;
  return (
    <>
      <Choice
        label="At every"
        value={at}
        options={[
          ['bars', 'so many bars: loops'],
          ['hits', 'hit: one-shots'],
        ]}
        onChange={(next) => setAt(next as Pieces['at'])}
      />
      {at === 'bars' ? (
        <NumberIn label="Bars" value={bars} least={1} most={64} whole onValue={setBars} />
      ) : (
        <>
          <NumberIn label="Apart by" unit="ms" value={least} least={30} most={5000} onValue={setLeast} />
          <NumberIn label="Strength" value={strength} least={0} most={100} onValue={setStrength} />
          <NumberIn label="At most" unit="s" value={longest} least={0.05} most={20} onValue={setLongest} />
        </>
      )}
      <Labelled label="Names">
        <TextField
          className="figures w-full"
          value={template}
          maxLength={200}
          onChange={(event) => setTemplate(event.target.value)}
        />
      </Labelled>
      {fault && <p className="text-one">{fault}</p>}
      <Button className="w-full" disabled={recipes.length === 0} onClick={() => void onMake(recipes)}>
        Make {recipes.length} {recipes.length === 1 ? 'piece' : 'pieces'}
      </Button>
      {recipes.length > 0 && (
        <p className="truncate text-tiny text-ink-soft">
          {recipes[0].name} … {recipes[recipes.length - 1].name}
        </p>
      )}
    </>
  );
}
