'use client';
import { counted } from '@/words/plural';
import { useMemo, useState } from 'react';
import type { Recipe } from '@/core/recipes/recipe';
import { piecesOf, type Pieces } from '@/library/recipes/pieces';
import { barsUntil } from '@/core/rhythm/grid';
import { Button } from '../../kit/Button';
import { Labelled, TextField } from '../../kit/Field';
import { NumberField } from '../../kit/NumberField';
import { Select } from '../../kit/Select';
import { useBenchModel } from '../useBenchModel';

const FIELD = { place: 'column', small: true, isLive: true } as const;
const SLICE_NAME = '{name} {number}';

/** Slices the sample at bars or at hits, all in one go. */
export function SliceSettings({ onRender }: { onRender: (recipes: readonly Recipe[]) => void }) {
  const { bench, cut } = useBenchModel();
  const { entry, grid } = bench;
  const most = grid ? barsUntil(grid, entry.summary.durationSeconds ?? 0) : 0;
  const [at, setAt] = useState<Pieces['at']>('bars');
  const [bars, setBars] = useState(1);
  const [least, setLeast] = useState(100);
  const [strength, setStrength] = useState(4);
  const [longest, setLongest] = useState(2);
  const [template, setTemplate] = useState(SLICE_NAME);
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
      <Select
        label="Slice at"
        place="column"
        small
        className="flex-1"
        value={at}
        options={['bars', 'hits'] as const}
        text={{ bars: 'bars (loops)', hits: 'hits (one-shots)' }}
        onChange={setAt}
      />
      {at === 'bars' ? (
        <NumberField {...FIELD} label="Bars" value={bars} least={1} most={64} whole onValue={setBars} />
      ) : (
        <>
          <NumberField
            {...FIELD}
            label="Minimum distance"
            unit="ms"
            value={least}
            least={30}
            most={5000}
            onValue={setLeast}
          />
          <NumberField
            {...FIELD}
            label="Minimum strength"
            value={strength}
            least={0}
            most={100}
            onValue={setStrength}
          />
          <NumberField
            {...FIELD}
            label="Maximum length"
            unit="s"
            value={longest}
            least={0.05}
            most={20}
            onValue={setLongest}
          />
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
      <Button className="w-full" disabled={recipes.length === 0} onClick={() => onRender(recipes)}>
        Render {counted(recipes.length, 'slice')}
      </Button>
      {recipes.length > 0 && (
        <p className="truncate text-tiny text-ink-soft">
          {recipes[0].name} … {recipes[recipes.length - 1].name}
        </p>
      )}
    </>
  );
}
