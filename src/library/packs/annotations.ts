import { tonicName } from '@/core/harmony/keyNames';
import { isRowUnpitched } from '../samples/toneless';
import type { SampleEntry } from '@/contract/entry';
import { clearHits } from '@/core/rhythm/clearHits';
import { barTime, beatsWithin } from '@/core/rhythm/grid';

/** The version of the standard that is written. */
const JAMS_VERSION = '0.3.4';

interface Observation {
  time: number;
  duration: number;
  value: string | number | null;
  confidence: number | null;
}

/**
 * What is settled of a sample as annotations by the standard (JAMS): namespaces `beat` (value: the place in the bar, 1 first), `tempo`,
 * `key_mode`, `segment_open` (its bars, and what loops) and `onset` (the clear hits). A proved grid has a confidence of 1, another
 * one that of the reading that it was settled from. Times are seconds.
 */
export function jamsOf({ summary, settled, measurement, readings }: SampleEntry): object {
  const duration = summary.durationSeconds ?? measurement?.durationSeconds ?? 0;
  const { grid, key, loop, chosen } = settled;
  const surenessOf = (readingId: string | undefined) =>
    readings.find((one) => one.readingId === readingId)?.sureness ?? null;
  const sure = summary.proof === 'current' ? 1 : surenessOf(chosen.tempo);
  const round = (value: number) => Math.round(value * 1e6) / 1e6;
  const whole = { time: 0, duration: round(duration) };

  const beats: Observation[] = [];
  const bars: Observation[] = [];
  if (grid && summary.kind !== 'oneshot') {
    for (const { time, place, bar } of beatsWithin(grid, 0, duration)) {
      beats.push({ time: round(time), duration: 0, value: Math.round(place) + 1, confidence: sure });
      if (Math.abs(place) > 1e-6) continue;
      const length = round(Math.min(barTime(grid, bar + 1), duration) - time);
      bars.push({ time: round(time), duration: length, value: `bar ${bar}`, confidence: sure });
    }
    if (loop) {
      const from = barTime(grid, loop.bar) + loop.shiftSeconds;
      const to = barTime(grid, loop.bar + loop.bars) + loop.shiftSeconds;
      bars.push({ time: round(from), duration: round(to - from), value: 'loop', confidence: null });
    }
  }
  const tempo: Observation[] =
    grid && beats.length > 0 ? [{ ...whole, value: round(grid.tempoBpm), confidence: sure ?? 0 }] : [];
  const isKeyed = key && ('none' in key || !isRowUnpitched(summary));
  const keys: Observation[] = isKeyed
    ? [
        {
          ...whole,
          value:
            'none' in key
              ? 'N'
              : summary.kind === 'oneshot'
                ? tonicName(key)
                : `${tonicName(key)}:${key.mode}`,
          confidence: surenessOf(chosen.key),
        },
      ]
    : [];
  const hits = (measurement ? clearHits(measurement.onsets) : []).map((time): Observation => ({
    ...{ time: round(time), duration: 0, value: null, confidence: null },
  }));
  const annotation = (namespace: string, data: Observation[]) => ({
    ...{ namespace, data, ...whole, sandbox: {} },
    annotation_metadata: {
      ...{ curator: { name: '', email: '' }, annotator: {}, version: '', corpus: '' },
      ...{ annotation_tools: 'Grento', annotation_rules: '', data_source: '' },
      validation: summary.proof === 'current' ? 'proved against the click' : '',
    },
  });
  return {
    annotations: [
      annotation('beat', beats),
      annotation('tempo', tempo),
      annotation('key_mode', keys),
      annotation('segment_open', bars),
      annotation('onset', hits),
    ].filter(({ data }) => data.length > 0),
    file_metadata: {
      ...{ title: summary.name, artist: '', release: '', duration: round(duration) },
      ...{ identifiers: { sha256: summary.sha256 }, jams_version: JAMS_VERSION },
    },
    sandbox: {},
  };
}
