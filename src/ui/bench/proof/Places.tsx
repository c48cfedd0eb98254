import clsx from 'clsx';
import { Ear } from 'lucide-react';
import { signedText } from '@/words/figures';
import type { ProofPlace } from '@/core/rhythm/drift';
import { Button } from '../../kit/Button';
import type { HeardPlace, Walk } from './useWalk';

/** Places of the file with the figures of their hits, each to be listened to. */
export function Places({ places, walk }: { places: readonly ProofPlace[]; walk: Walk }) {
  return (
    <table className="w-full border-collapse">
      <caption className="sr-only">Places checked, with figures</caption>
      <thead>
        <tr className="border-b border-rule-strong text-left text-tiny text-ink-soft">
          <th className="font-normal">Place</th>
          <th className="text-right font-normal">Hits</th>
          <th className="text-right font-normal">Hit − click</th>
          <th className="text-right font-normal">Spread</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {places.map((place) => (
          <tr
            key={place.label}
            className={clsx('h-9 border-b border-rule', walk.at?.label === place.label && 'bg-wash-ink')}
          >
            <th scope="row" className="text-left font-semibold">
              {place.label}
              <div className="figures text-tiny font-normal text-ink-soft">{place.from.toFixed(1)} s</div>
            </th>
            <td className="figures text-right">{place.hits}</td>
            <td
              className={clsx(
                'figures text-right font-semibold',
                place.medianMs !== null && Math.abs(place.medianMs) > 12 && 'text-look',
              )}
            >
              {place.medianMs === null ? '–' : signedText(place.medianMs, 1, 'ms')}
            </td>
            <td className="figures text-right">
              {place.spreadMs === null ? '–' : `${place.spreadMs.toFixed(1)} ms`}
            </td>
            <td className="pl-2 text-right">
              <ListenButton
                label={place.label}
                heard={walk.heard.find(({ label }) => label === place.label)}
                onListen={() => walk.listen(place)}
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function ListenButton({
  label,
  heard,
  onListen,
}: {
  label: string;
  heard: HeardPlace | undefined;
  onListen: () => void;
}) {
  const words = heard ? (heard.verdict ?? 'heard') : 'listen';
  return (
    <Button
      className="w-24"
      aria-label={`Listen at the ${label}${heard ? `, ${words}` : ''}`}
      pressed={Boolean(heard)}
      onClick={onListen}
    >
      <Ear className="size-3.5" aria-hidden /> {words}
    </Button>
  );
}
