'use client';
import { feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { draftAtTarget } from '../../family/cutDrafts';
import { barsText, bpmText } from '@/words/figures';
import { Button } from '../../kit/Button';
import { aimOf, useTarget } from '../../target/target';
import { targetName } from '@/library/packs/contents';
import { useBenchModel } from '../useBenchModel';
import { typeInto } from './cutFields';

/** The recipes that are wanted most, one press each: they fill the settings beside the picture, which stay for the rest. `most`: bars that the file holds. */
export function QuickRecipes({ grid, most }: { grid: Grid; most: number }) {
  const { bench, cut } = useBenchModel();
  const { draft, change, isTouched } = cut;
  const { region, time, countInBars } = draft;
  const state = useTarget();
  const size = feltBeatsPerBar(grid.meter);
  const beats = region && (region.to - region.from) * time.level;
  const near = beats && Math.max(1, Math.round(beats / size)) * size;
  const isExact = near !== null && time.exactBeats === near;
  const { kind } = bench.entry.summary;
  // A song is counted in as a whole, unless somebody has chosen bars of it.
  const isWhole = !isTouched && (kind === 'song' || kind === 'stem');
  const steady = Math.round(grid.tempoBpm * 10) / 10;
  const isSteady = time.even !== 'no';
  const atTarget = () => {
    const next = draftAtTarget(bench.entry, aimOf(state), draft);
    if (next) change(next);
  };
  return (
    <div
      role="group"
      aria-label="Recipes"
      className="flex min-h-8 shrink-0 flex-wrap items-center gap-1 border-b border-rule px-2 py-0.5 text-small"
    >
      {most > 0 && (
        <Button
          small
          onClick={() =>
            region ? change({ region: null, kind: kind ?? 'song' }) : cut.chooseBars(1, Math.min(4, most))
          }
        >
          {region ? 'Whole file' : 'Bars only'}
        </Button>
      )}
      {near !== null && (
        <Button
          small
          pressed={isExact}
          title="The length becomes whole bars at the tempo, to the frame"
          onClick={() => change({ time: { ...time, exactBeats: isExact ? null : near } })}
        >
          Exactly {barsText(near / size)}
        </Button>
      )}
      <span className="ml-1 text-ink-soft">Count-in</span>
      {[1, 2].map((bars) => (
        <Button
          key={bars}
          small
          pressed={countInBars === bars}
          onClick={() =>
            change({
              countInBars: countInBars === bars ? 0 : bars,
              ...(isWhole && { region: null, kind }),
            })
          }
        >
          {barsText(bars)}
        </Button>
      ))}
      {region && (
        <>
          <span className="ml-1 text-ink-soft">Repeat</span>
          <Button small title="Twice as long" onClick={() => change({ times: 2 * draft.times })}>
            × 2
          </Button>
          <Button small title="Type a length: 2 min, 30:00, 64 bars" onClick={() => typeInto('length')}>
            to length…
          </Button>
        </>
      )}
      {grid.movingBeats && (
        <Button
          small
          pressed={isSteady}
          title="Every beat moves to one steady tempo"
          onClick={() =>
            change({ time: { ...time, ...(isSteady ? STAYS : { even: 'beat', tempoBpm: steady }) } })
          }
        >
          Steady {bpmText(steady)}
        </Button>
      )}
      <Button small title="Type a tempo: 120, -8%, x0.5" onClick={() => typeInto('tempo')}>
        Tempo…
      </Button>
      <Button small title="Type semitones: 5, -3" onClick={() => typeInto('transpose')}>
        Transpose…
      </Button>
      {state.isOn && (
        <Button small title="As it is played at the target" onClick={atTarget}>
          At {targetName(aimOf(state))}
        </Button>
      )}
    </div>
  );
}

const STAYS = { even: 'no', tempoBpm: null } as const;
