'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import clsx from 'clsx';
import Link from 'next/link';
import { useEffect } from 'react';
import { toast } from 'sonner';
import type { SampleSummary } from '@/contract/entry';
import type { AlikePair } from '@/contract/likenesses';
import { decideAlike, fetchAlike } from '../../api/alike';
import { engine } from '../../audio/engine';
import { Button } from '../../pieces/Button';
import { bpmText, keyOfRow, lengthText, signedText, sizeText } from '../../pieces/figures';
import { Thumbnail } from '../../trace/Thumbnail';

/** Pairs of samples that hold the same recording, side by side with what differs. */
export function AlikeScreen() {
  const { data, isPending, error } = useQuery({
    queryKey: ['alike'],
    queryFn: ({ signal }) => fetchAlike(signal),
  });
  useEffect(() => () => engine.stop(), []);
  return (
    <div className="h-full overflow-y-auto px-4 py-3">
      <p className="mb-3 max-w-3xl text-small text-ink-soft">
        Samples with the same bytes, the same audio in another container, or the same recording trimmed or
        coded otherwise. Merging keeps the tags, the note and the readings of both; the other one goes out of
        the way and can be brought back.
      </p>
      {error && <p className="text-one">{error.message}</p>}
      {isPending && <p className="text-ink-soft">Fetching the pairs …</p>}
      {data?.length === 0 && (
        <p className="p-8 text-center text-ink-soft">No two samples are alike, or all pairs are decided.</p>
      )}
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
  const queries = useQueryClient();
  const { a, b, relation, offsetSeconds, difference, samples } = pair;
  const decide = (what: 'merge' | 'keep apart' | 'swap and merge') =>
    void decideAlike({ a, b, do: what })
      .then(() => {
        toast(what === 'keep apart' ? 'Both stay.' : 'Merged.', {
          action: {
            label: 'Take it back',
            onClick: () =>
              void decideAlike({ a, b, do: 'open' })
                .then(() => queries.invalidateQueries())
                .catch((error: Error) => toast.error(error.message)),
          },
        });
        return queries.invalidateQueries();
      })
      .catch((error: Error) => toast.error(error.message));
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
            first; <span className="figures">{(100 * difference).toFixed(1)} %</span> of the print differs
          </span>
        )}
        <span className="ml-auto flex gap-1.5">
          <Button onClick={() => decide('merge')}>Merge, keep the first</Button>
          <Button onClick={() => decide('swap and merge')}>Merge, keep the second</Button>
          <Button onClick={() => decide('keep apart')}>Keep both</Button>
        </span>
      </div>
      <table className="w-full table-fixed border-collapse text-small">
        <tbody>
          <tr className="border-y border-rule align-top">
            <th scope="row" className="w-32 py-1 text-left text-tiny font-normal text-ink-soft">
              what differs is marked
            </th>
            {samples.map((sample) => (
              <td key={sample.sampleId} className="py-1 pr-6">
                <Thumbnail
                  sampleId={sample.sampleId}
                  thumbnail={sample.thumbnail}
                  durationSeconds={sample.durationSeconds}
                  name={sample.name}
                />
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
    ['standing', sample.standing],
    ['tags', sample.tags.map(({ value }) => value).join(', ') || '–'],
    [
      'arrived',
      new Date(sample.arrivedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }),
    ],
  ];
}
