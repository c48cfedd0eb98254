import { performance } from 'node:perf_hooks';
import { hearingOf } from '../../src/library/blend/hearing';
import { mixed, partsFitted } from '../../src/library/blend/mixdown';
import { laneFactsLike } from './blendFacts';
import { scoreOf } from '../../src/library/blend/score';
import { emptyBlend, newLane } from '../../src/contract/blend';

const RATE = 44_100;
const LANES = 8;
const MINUTES = 3;

const idOf = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;

/**
 * How fast eight lanes of three minutes are mixed: loops that loop, and songs that are stretched and shifted from end to
 * end, all of it, on one core. Prints × real time.
 */
export function benchBlend(audio: readonly Float32Array[]): void {
  for (const kind of ['loop', 'song'] as const) {
    const lanes = Array.from({ length: LANES }, (_, i) =>
      newLane({
        ...{ laneId: `${i + 1}`, sampleId: idOf(i), name: `${i}`, semitones: (i % 5) - 2 },
        times: kind === 'loop' ? null : 1,
      }),
    );
    const facts = new Map(
      lanes.map(({ sampleId }, i) => {
        const tempoBpm = 84 + 4 * i;
        const bars = kind === 'loop' ? 4 : Math.floor((MINUTES * tempoBpm) / 4);
        return [sampleId, laneFactsLike(kind, tempoBpm, bars)];
      }),
    );
    const marker = newLane({
      ...{
        laneId: '9',
        sampleId: idOf(0),
        name: 'length',
        muted: true,
        times: Math.ceil((MINUTES * 96) / 16),
      },
    });
    const blend = {
      ...emptyBlend('bench'),
      tempoBpm: 96,
      lanes: kind === 'loop' ? [...lanes, marker] : lanes,
    };
    const score = scoreOf(blend, facts);
    const began = performance.now();
    const parts = score.lanes
      .filter(({ lane }) => !lane.muted)
      .flatMap((one) => {
        const frames = Math.round(facts.get(one.lane.sampleId)!.settled.durationSeconds * RATE);
        const steps = partsFitted(
          one.parts,
          audio.map((channel) => channel.subarray(0, frames)),
          RATE,
        );
        let step = steps.next();
        while (!step.done) step = steps.next();
        return [...step.value].map(([part, channels]) => ({
          ...{ part, channels, hearing: hearingOf(one.lane, blend.lanes) },
        }));
      });
    const fitted = performance.now();
    mixed(parts, { from: 0, to: score.seconds, rate: RATE });
    const seconds = (performance.now() - began) / 1000;
    console.log(
      `mix of ${LANES} lanes of ${(score.seconds / 60).toFixed(1)} min, ${kind === 'loop' ? 'loops that go round' : 'songs bent from end to end'}: ${(score.seconds / seconds).toFixed(1)} × real time (fitting ${((fitted - began) / 1000).toFixed(1)} s of ${seconds.toFixed(1)} s)`,
    );
  }
}
