'use client';
import { Printer } from 'lucide-react';
import Link from 'next/link';
import { useCallback, useMemo } from 'react';
import type { SampleEntry } from '@/contract/entry';
import type { Measurement } from '@/core/measurement/schema';
import { deviations, driftFigures, judgeGrid, proofPlaces } from '@/core/rhythm/drift';
import { gridWords } from '@/words/grid';
import { foldRows } from '@/core/rhythm/fold';
import { barsUntil, feltBeatsPerBar, type Grid } from '@/core/rhythm/grid';
import { measureLean } from '@/core/rhythm/lean';
import { BANDS } from '@/core/traces/bandStrength';
import type { Traces } from '@/core/traces/traces';
import { DriftTrace } from '../bench/DriftStrip';
import { drawFold } from '../bench/fold/drawFold';
import { foldScale } from '../bench/fold/foldScale';
import { leanWords } from '../bench/leanWords';
import { Proofs } from '../bench/proof/Proofs';
import { valueText } from '../bench/ReadingsTable';
import { useEntry, useTraces } from '../api/useEntry';
import { Button } from '../kit/Button';
import { bpmText, keyText, lengthText, percentText, signedText, timeText } from '@/words/figures';
import { Canvas } from '../trace/Canvas';
import { useInks } from '../trace/useInks';
import { fittingGain } from '../trace/waveform';

/** Everything that speaks for a sample's grid on one sheet of paper: to be read and to be printed. */
export function SheetScreen({ sampleId }: { sampleId: string }) {
  const { data: entry, error } = useEntry(sampleId);
  const { data: traces, error: traceError } = useTraces(sampleId, Boolean(entry?.measurement));
  const fault = error ?? traceError;
  if (fault) return <p className="p-16 text-center">{fault.message}</p>;
  if (!entry) return <p className="p-16 text-center text-ink-soft">Loading the sample…</p>;
  return (
    <div className="h-full overflow-y-auto bg-sunk print:h-auto print:overflow-visible print:bg-white">
      <div className="mx-auto my-4 max-w-[60rem] border border-rule-strong bg-paper p-8 print:m-0 print:max-w-none print:border-0 print:p-0">
        <div className="mb-4 flex items-center gap-3 print:hidden">
          <Link href={`/bench/${sampleId}`} className="underline">
            Back to the Bench
          </Link>
          <Button className="ml-auto" onClick={() => window.print()}>
            <Printer className="size-4" aria-hidden /> Print
          </Button>
        </div>
        <Sheet entry={entry} traces={traces ?? null} />
      </div>
    </div>
  );
}

function Sheet({ entry, traces }: { entry: SampleEntry; traces: Traces | null }) {
  const { summary, settled, measurement } = entry;
  const { grid } = settled;
  const duration = summary.durationSeconds ?? 0;
  return (
    <article className="space-y-5 text-small" data-testid="proof-sheet">
      <header className="border-b-2 border-ink pb-2">
        <h1 className="text-xl font-semibold">{summary.name}</h1>
        <p className="figures text-tiny text-ink-soft">
          {summary.folder} · {lengthText(duration)} · SHA-256 {summary.sha256}
        </p>
      </header>
      <dl className="grid grid-cols-5 gap-3">
        <Fact name="Tempo" value={grid ? `${bpmText(grid.tempoBpm)} BPM` : 'none'} />
        <Fact name="The one" value={grid ? timeText(grid.one) : '–'} />
        <Fact name="Meter" value={grid ? `${grid.meter.beatsPerBar}/${grid.meter.beatUnit}` : '–'} />
        <Fact name="Bars" value={grid ? String(barsUntil(grid, duration)) : '–'} />
        <Fact name="Key" value={settled.key ? keyText(settled.key) : 'not settled'} />
      </dl>
      {grid && measurement && traces && <Evidence {...{ grid, measurement, traces }} />}
      <section>
        <h2 className="mb-1 font-semibold">Readings</h2>
        <table className="w-full">
          <tbody>
            {entry.readings
              .filter((reading) => !reading.superseded)
              .map((reading) => (
                <tr key={reading.readingId} className="border-b border-rule">
                  <td className="w-20 text-ink-soft">{reading.property}</td>
                  <td className="figures w-32">{valueText(reading)}</td>
                  <td className="w-32">{reading.source}</td>
                  <td className="figures w-16 text-right">{percentText(reading.sureness)}</td>
                  <td className="pl-4 text-ink-soft">{reading.detail}</td>
                  <td className="w-20 text-right font-semibold">
                    {settled.chosen[reading.property] === reading.readingId ? 'in use' : ''}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2 className="mb-1 font-semibold">Signed by</h2>
        <Proofs proofs={entry.proofs} />
      </section>
    </article>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt className="text-tiny text-ink-soft">{name}</dt>
      <dd className="figures text-lg font-semibold">{value}</dd>
    </div>
  );
}

interface EvidenceProps {
  grid: Grid;
  measurement: Measurement;
  traces: Traces;
}

/** Fold, drift trace and the places with their figures. */
function Evidence({ grid, measurement: { onsets, character }, traces }: EvidenceProps) {
  const inks = useInks();
  const { durationSeconds } = traces;
  const found = useMemo(() => deviations(onsets, grid, durationSeconds), [onsets, grid, durationSeconds]);
  const places = useMemo(() => proofPlaces(onsets, grid, durationSeconds), [onsets, grid, durationSeconds]);
  const lean = useMemo(
    () => leanWords(grid, measureLean(onsets, grid), durationSeconds),
    [grid, onsets, durationSeconds],
  );
  const figures = driftFigures(found, grid);
  const verdict = gridWords(
    judgeGrid(figures, barsUntil(grid, durationSeconds), character?.attackMs ?? 0),
    figures,
  );
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number) => {
      const rows = foldRows(grid, feltBeatsPerBar(grid.meter), durationSeconds);
      drawFold(context, foldScale(rows, { width, height }, null, 0), inks, {
        grid,
        strength: traces.strength,
        peaks: traces.peaks,
        drawing: 'hits',
        bands: BANDS,
        gain: fittingGain(traces.peaks),
        deviations: found,
        swing: null,
        upright: null,
        chosen: null,
        finds: [],
      });
    },
    [grid, traces, inks, found, durationSeconds],
  );
  return (
    <>
      <section>
        <h2 className="mb-1 font-semibold">
          Fold <span className="ml-2 font-normal text-ink-soft">{lean.text}</span>
        </h2>
        <div className="relative h-80 border border-rule" role="img" aria-label={`Fold: ${lean.text}`}>
          <Canvas draw={draw} />
        </div>
      </section>
      <section>
        <h2 className="mb-1 font-semibold">
          Drift <span className="ml-2 font-normal text-ink-soft">{verdict}</span>
        </h2>
        <div className="relative h-28 border border-rule">
          <DriftTrace
            grid={grid}
            found={found}
            durationSeconds={durationSeconds}
            from={0}
            to={durationSeconds}
          />
        </div>
      </section>
      <section>
        <h2 className="mb-1 font-semibold">Places</h2>
        <table className="w-full">
          <thead className="text-left text-tiny text-ink-soft">
            <tr>
              <th className="font-normal">Place</th>
              <th className="text-right font-normal">from</th>
              <th className="text-right font-normal">to</th>
              <th className="text-right font-normal">Hits</th>
              <th className="text-right font-normal">Hit − click</th>
              <th className="text-right font-normal">Spread</th>
            </tr>
          </thead>
          <tbody>
            {places.map(({ label, from, to, hits, medianMs, spreadMs }) => (
              <tr key={label} className="figures border-b border-rule text-right">
                <td className="text-left font-sans">{label}</td>
                <td>{timeText(from, 2)}</td>
                <td>{timeText(to, 2)}</td>
                <td>{hits}</td>
                <td>{medianMs === null ? '–' : signedText(medianMs, 1, 'ms')}</td>
                <td>{spreadMs === null ? '–' : `${spreadMs.toFixed(1)} ms`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}
