import type { Differences, PlanFault } from '@/core/recipes/differences';

const round = (bpm: number) => Math.round(bpm * 1000) / 1000;

/** The differences as a sentence: "planned 93 BPM, measured 93.001; first hit +0.1 ms, last −0.2 ms". */
export function differencesText({
  frames,
  tempo,
  key,
  tuningCents,
  hits,
  quieterDb,
  faults,
}: Differences): string {
  const parts = [
    ...faults.map((fault) => faultWords(fault, { frames, tempo, key, tuningCents, hits })),
    tempo && `planned ${round(tempo.planned)} BPM, measured ${round(tempo.measured)}`,
    hits && `first hit ${ms(hits.firstMs)}, last ${ms(hits.lastMs)}, ${hits.found} of ${hits.of} found`,
    key &&
      (key.planned === key.measured
        ? `${key.planned} both`
        : `planned ${key.planned}, measured ${key.measured}`),
    tuningCents !== null && `tuning ${signed(tuningCents, 0)} cents`,
    frames.planned === frames.written && `${frames.written.toLocaleString('en')} frames, as planned`,
    quieterDb > 0 && `made ${quieterDb.toFixed(2)} dB lower to avoid clipping`,
  ];
  return parts.filter(Boolean).join('; ');
}

function signed(value: number, decimals: number): string {
  const text = Math.abs(value).toFixed(decimals);
  return `${Number(text) === 0 ? '±' : value > 0 ? '+' : '−'}${text}`;
}

const ms = (value: number) => `${signed(value, 1)} ms`;

/** In what it is not what was planned. */
function faultWords(
  fault: PlanFault,
  {
    frames,
    tempo,
    key,
    tuningCents,
    hits,
  }: Pick<Differences, 'frames' | 'tempo' | 'key' | 'tuningCents' | 'hits'>,
): string {
  switch (fault) {
    case 'length':
      return `${frames.written} frames long instead of ${frames.planned}`;
    case 'tempo':
      return `measures ${round(tempo?.measured ?? 0)} BPM instead of ${round(tempo?.planned ?? 0)}`;
    case 'key':
      return `measures ${key?.measured ?? 'another key'} instead of ${key?.planned ?? 'as planned'}`;
    case 'tuning':
      return `${Math.round(tuningCents ?? 0)} cents off the planned tuning`;
    case 'hits':
      return `hits are ${(hits?.usualMs ?? 0).toFixed(1)} ms from their places`;
  }
}
