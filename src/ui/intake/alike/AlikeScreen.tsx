'use client';
import { useQuery } from '@tanstack/react-query';
import clsx from 'clsx';
import Link from 'next/link';
import { useEffect } from 'react';
import type { SampleSummary } from '@/contract/entry';
import type { AlikePair } from '@/contract/likenesses';
import { decideAlike, fetchAlike } from '../../api/alike';
import { engine } from '../../audio/engine';
import { Button } from '../../kit/Button';
import { bpmText, keyOfRow, lengthText, signedText, sizeText } from '@/words/figures';
import { Awaited, Empty } from '../../kit/States';
import { useAction } from '../../kit/useAction';
import { RowTrace } from '../../list/cells';

/** Pairs of samples that hold the same recording, side by side with what differs. */
export function AlikeScreen() {
  const asked = useQuery({ queryKey: ['alike'], queryFn: ({ signal }) => fetchAlike(signal) });
  const { data } = asked;
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <p className="mb-3 max-w-3xl text-small text-ink-soft">
        Samples with the same bytes, the same audio in another format, or the same recording trimmed or
        encoded differently. Merging keeps tags, note and readings of both; the other sample is hidden and can
        be restored.
      </p>
      <Awaited of={asked} what="duplicates" />
      {data?.length === 0 && <Empty>No duplicates left to decide.</Empty>}
      <ul className="space-y-5">
        {data?.map((pair) => (
          <li key={`${pair.a} ${pair.b}`}>
            <Pair pair={pair} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Pair({ pair }: { pair: AlikePair }) {
  const { a, b, relation, offsetSeconds, difference, samples } = pair;
  const { act: decide } = useAction({
    run: (what: 'merge' | 'keep apart' | 'swap and merge') => decideAlike({ a, b, do: what }),
    says: (_, what) => (what === 'keep apart' ? 'Both kept.' : 'Merged.'),
    undo: () => decideAlike({ a, b, do: 'open' }),
  });
  const rows = factsOf(samples[0]).map(([label, first], i) => ({
    label,
    first,
    second: factsOf(samples[1])[i][1],
  }));
  return (
    <section aria-label={`${samples[0].name} and ${samples[1].name}`} className="border-t-2 border-ink">
      <div className="flex items-center gap-3 py-1.5 text-small">
        <b>{relation}</b>
        {relation === 'same recording' && (
          <span className="text-ink-soft">
            the second begins <span className="figures">{signedText(offsetSeconds, 2, 's')}</span> into the
            first; <span className="figures">{(100 * difference).toFixed(1)} %</span> of the fingerprint
            differs
          </span>
        )}
        <span className="ml-auto flex gap-1.5">
          <Button onClick={() => decide('merge')}>Merge into the first</Button>
          <Button onClick={() => decide('swap and merge')}>Merge into the second</Button>
          <Button onClick={() => decide('keep apart')}>Keep both</Button>
        </span>
      </div>
      <table className="w-full table-fixed border-collapse text-small">
        <tbody>
          <tr className="border-y border-rule align-top">
            <th scope="row" className="w-32 py-1 text-left text-tiny font-normal text-ink-soft">
              differences are highlighted
            </th>
            {samples.map((sample) => (
              <td key={sample.sampleId} className="py-1 pr-6">
                <RowTrace row={sample} />
                <Link href={`/bench/${sample.sampleId}`} className="font-semibold hover:underline">
                  {sample.name}
                </Link>
              </td>
            ))}
          </tr>
          {rows.map(({ label, first, second }) => (
            <tr key={label} className="border-b border-rule">
              <th scope="row" className="py-0.5 text-left text-tiny font-normal text-ink-soft">
                {label}
              </th>
              {[first, second].map((value, i) => (
                <td key={i} className={clsx('py-0.5 pr-6', first !== second && 'font-semibold text-look')}>
                  {value}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function factsOf(sample: SampleSummary): [string, string][] {
  const { format, sampleRate, channels, durationSeconds, tempoBpm } = sample;
  return [
    ['folder', sample.folder || '–'],
    [
      'format',
      [
        format?.replace('ogg-', '').toUpperCase(),
        sampleRate && `${sampleRate / 1000} kHz`,
        channels && `${channels} channels`,
      ]
        .filter(Boolean)
        .join(', '),
    ],
    ['size', sizeText(sample.byteLength)],
    ['length', durationSeconds === null ? '–' : lengthText(durationSeconds)],
    ['tempo', tempoBpm === null ? '–' : `${bpmText(tempoBpm)} BPM`],
    ['key', keyOfRow(sample) ?? '–'],
    ['status', sample.standing],
    ['tags', sample.tags.map(({ value }) => value).join(', ') || '–'],
    [
      'arrived',
      new Date(sample.arrivedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }),
    ],
  ];
}
