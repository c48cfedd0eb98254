'use client';
import clsx from 'clsx';
import { Check } from 'lucide-react';
import type { StoredReading } from '@/contract/entry';
import { applyReading, settleReadings } from '@/library/samples/applyReading';
import { PROPERTIES, type Property } from '@/core/readings/reading';
import { sameGrid } from '@/core/rhythm/grid';
import { tempoRelation } from '@/core/readings/tempoRelation';
import { bpmText, keyText, percentText, signedText, timeText } from '@/words/figures';
import type { Bench } from './useBench';
import { keepKeysFree } from '../kit/pressedByMouse';
import { useBenchModel } from './useBenchModel';

const TITLES: Record<Property, string> = {
  tempo: 'Tempo',
  one: 'The one',
  meter: 'Time signature',
  key: 'Key',
  tuning: 'Tuning',
};

/** All readings, property by property, with how far they agree with what is settled; pressing one uses it. */
export function ReadingsTable() {
  const { bench } = useBenchModel();
  const { readings, settled, measurement } = bench.entry;
  const choose = (reading: StoredReading) =>
    bench.settle(
      settleReadings(bench.now().entry.settled, [reading], measurement),
      `${TITLES[reading.property].toLowerCase()} ${valueText(reading)} from ${reading.source}`,
    );
  return (
    <table className="w-full border-collapse text-small">
      <caption className="sr-only">Readings: press a value to use it</caption>
      <thead className="sr-only">
        <tr>
          <th>Value</th>
          <th>Source</th>
          <th>Confidence</th>
          <th>Agreement</th>
          <th>Compare</th>
        </tr>
      </thead>
      {PROPERTIES.map((property) => {
        const rows = readings.filter(
          (reading) =>
            reading.property === property &&
            (!reading.superseded || settled.chosen[property] === reading.readingId),
        );
        if (rows.length === 0) return null;
        return (
          <tbody key={property}>
            <tr>
              <th scope="rowgroup" colSpan={5} className="border-b border-rule pt-2 text-left font-semibold">
                {TITLES[property]}
              </th>
            </tr>
            {rows.map((reading) => {
              const chosen = settled.chosen[property] === reading.readingId;
              const agreement = agreementOf(reading, bench);
              return (
                <tr
                  key={reading.readingId}
                  title={reading.detail || undefined}
                  className={clsx('h-6 border-b border-rule', chosen && 'bg-wash-ink')}
                >
                  <td className="w-[6.6rem]">
                    <button
                      type="button"
                      onMouseDown={keepKeysFree}
                      aria-pressed={chosen}
                      className="figures flex w-full items-center gap-1 px-1 text-left hover:underline"
                      onClick={() => choose(reading)}
                    >
                      {chosen ? (
                        <Check className="size-3.5 shrink-0 text-one" aria-label="in use" />
                      ) : (
                        <span className="w-3.5 shrink-0" />
                      )}
                      <span className={clsx(chosen && 'font-semibold')}>{valueText(reading)}</span>
                    </button>
                  </td>
                  <td className="text-ink-soft">
                    {reading.rank > 0 ? `${reading.source} (${reading.rank + 1}.)` : reading.source}
                  </td>
                  <td className="figures text-right whitespace-nowrap">{percentText(reading.sureness)}</td>
                  <td
                    className={clsx('pl-2 whitespace-nowrap', agreement.agrees ? 'text-good' : 'text-look')}
                  >
                    {agreement.words}
                  </td>
                  <td className="w-9 text-right">
                    <Compare reading={reading} />
                  </td>
                </tr>
              );
            })}
          </tbody>
        );
      })}
    </table>
  );
}

/** Draws and clicks the grid of a reading instead of the settled one, for comparing. */
function Compare({ reading }: { reading: StoredReading }) {
  const { bench, comparing } = useBenchModel();
  const { settled, measurement } = bench.entry;
  if (reading.property === 'key' || reading.property === 'tuning') return null;
  const { grid } = applyReading(settled, reading, measurement);
  if (!grid || (settled.grid && sameGrid(grid, settled.grid))) return null;
  const label = `${reading.source}, ${valueText(reading)}`;
  const isHeard = comparing.isHeard && comparing.compared?.label === label;
  return (
    <button
      type="button"
      onMouseDown={keepKeysFree}
      aria-pressed={isHeard}
      title="Compare with this grid: B switches between the two"
      className={clsx('px-1 text-tiny underline', isHeard ? 'bg-wash-ink font-semibold' : 'text-ink-soft')}
      onClick={() => comparing.compare(isHeard ? null : { label, grid })}
    >
      compare
    </button>
  );
}

/** A reading's value as it is read out. */
export function valueText(reading: StoredReading): string {
  switch (reading.property) {
    case 'tempo':
      return bpmText(reading.value);
    case 'one':
      return timeText(reading.value);
    case 'meter':
      return `${reading.value.beatsPerBar}/${reading.value.beatUnit}`;
    case 'key':
      return keyText(reading.value);
    case 'tuning':
      return signedText(reading.value, 0, 'cents');
  }
}

function agreementOf(reading: StoredReading, { entry, grid }: Bench): { words: string; agrees: boolean } {
  const { settled } = entry;
  switch (reading.property) {
    case 'tempo':
      return grid ? tempoRelation(reading.value, grid.tempoBpm) : { words: '', agrees: true };
    case 'one': {
      if (!grid) return { words: '', agrees: true };
      const apart = 1000 * (reading.value - grid.one);
      return {
        words: Math.abs(apart) < 0.5 ? 'agrees' : signedText(apart, 0, 'ms'),
        agrees: Math.abs(apart) < 5,
      };
    }
    case 'meter': {
      const same =
        grid?.meter.beatsPerBar === reading.value.beatsPerBar &&
        grid.meter.beatUnit === reading.value.beatUnit;
      return { words: same ? 'agrees' : 'differs', agrees: same };
    }
    case 'key': {
      const same = settled.key !== null && keyText(settled.key) === keyText(reading.value);
      return { words: same ? 'agrees' : 'differs', agrees: same };
    }
    case 'tuning': {
      const apart = reading.value - (settled.tuningCents ?? reading.value);
      return {
        words: Math.abs(apart) < 3 ? 'agrees' : signedText(apart, 0, 'cents'),
        agrees: Math.abs(apart) < 3,
      };
    }
  }
}
