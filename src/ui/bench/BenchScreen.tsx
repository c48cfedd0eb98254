'use client';
import Link from 'next/link';
import { useEffect } from 'react';
import { percentText } from '@/words/figures';
import { useEngine } from '../audio/useEngine';
import { Empty, Loading } from '../kit/States';
import { rememberOnBench } from '../shell/lastOnBench';
import { BenchHead } from './BenchHead';
import { MainPictures } from './MainPictures';
import { SidePanel } from './SidePanel';
import { StemsBar } from './StemsBar';
import { Transport } from './Transport';
import { useBench, type Bench } from './useBench';
import { useBenchKeys } from './useBenchKeys';
import { BenchContext, useNewBenchModel } from './useBenchModel';

/** One sample: checked against a click, by ear and by eye. */
export function BenchScreen({ sampleId }: { sampleId: string }) {
  const { bench, error } = useBench(sampleId);
  useEffect(() => rememberOnBench(sampleId), [sampleId]);
  if (error)
    return (
      <Empty>
        {error.message}{' '}
        <Link href="/intake" className="underline">
          Back to the Intake
        </Link>
      </Empty>
    );
  if (!bench) return <Loading what="the sample" />;
  return <LoadedBench key={bench.entry.measurement ? 'measured' : 'unmeasured'} bench={bench} />;
}

function LoadedBench({ bench }: { bench: Bench }) {
  const model = useNewBenchModel(bench);
  useBenchKeys(model);
  const { traces } = bench;
  return (
    <BenchContext value={model}>
      <div className="flex h-full flex-col">
        <BenchHead />
        <StemsBar />
        <div className="flex min-h-0 flex-1">
          <div className="flex min-w-0 flex-1 flex-col">
            {traces ? <MainPictures traces={traces} /> : <Waiting bench={bench} />}
            <Transport grid={bench.grid} looping={model.looping} row={bench.entry.summary} />
          </div>
          <SidePanel />
        </div>
      </div>
    </BenchContext>
  );
}

/** What stands in the place of the picture until there is one. */
function Waiting({ bench }: { bench: Bench }) {
  const fault = useEngine((state) => state.fault);
  const loaded = useEngine((state) => state.loaded);
  const { summary, measurement } = bench.entry;
  const why = summary.fault ?? fault;
  const words = measurement
    ? `Loading, ${percentText(loaded)}`
    : 'This sample is waiting to be measured. It opens as soon as it is measured.';
  return (
    <div className="flex min-h-0 flex-1 flex-col items-center justify-center gap-2 bg-sheet p-8 text-center">
      <p className={why ? 'text-one' : 'text-ink-soft'}>{why ?? words}</p>
      {why && (
        <p className="text-small text-ink-soft">
          The file “{summary.name}” is stored unchanged; you can download the original.
        </p>
      )}
    </div>
  );
}
