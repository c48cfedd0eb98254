'use client';
import { useMemo } from 'react';
import { drawnHits } from '@/core/recipes/hitMoves';
import type { RenderPlan } from '@/core/recipes/renderPlan';
import { signedText } from '@/words/figures';
import type { Cut } from './useCut';

/** Rows of the table: nobody reads more of them. */
const MOST_ROWS = 64;

/** What drawing hits to the grid does: what is kept, how near the hits come, and each of them before and after. */
export function QuantizedHits({ renderPlan, hits }: { renderPlan: RenderPlan; hits: Cut['draft']['hits'] }) {
  const drawn = useMemo(() => drawnHits(renderPlan.moved), [renderPlan]);
  if (hits.pull === 0) return null;
  const swing = renderPlan.keptSwing;
  return (
    <div className="space-y-0.5 text-tiny" role="status" data-testid="drawn-hits">
      {swing !== null && swing > 0.505 && (
        <p>
          Swing {swing.toFixed(2)} is kept: off-beats move to their average played position. Set the swing to
          straight to move them onto the even grid.
        </p>
      )}
      {drawn ? (
        <p>
          {drawn.moved} of {drawn.of} hits move: {drawn.before.usualMs.toFixed(1)} →{' '}
          {drawn.after.usualMs.toFixed(1)} ms from the grid, at most {drawn.before.mostMs.toFixed(1)} →{' '}
          {drawn.after.mostMs.toFixed(1)} ms.
          {drawn.outside > 0 && ` ${drawn.outside} are farther than ${hits.windowMs} ms away and stay.`}
        </p>
      ) : (
        <p>
          {renderPlan.moved.length === 0
            ? 'No hits in this range.'
            : `No hit lies within ${hits.windowMs} ms of the grid: nothing moves.`}
        </p>
      )}
      {drawn && (
        <details>
          <summary className="cursor-pointer">Each hit</summary>
          <table className="figures mt-0.5 w-full text-right">
            <thead className="text-ink-soft">
              <tr>
                <th className="font-normal">time, s</th>
                <th className="font-normal">before, ms</th>
                <th className="font-normal">after, ms</th>
              </tr>
            </thead>
            <tbody>
              {renderPlan.moved.slice(0, MOST_ROWS).map(({ at, from, to, place }) => (
                <tr key={at}>
                  <td>{(renderPlan.first / renderPlan.rate + at).toFixed(3)}</td>
                  <td>{place === null ? '–' : signedText(1000 * (from - place), 1, '')}</td>
                  <td>{place === null ? '–' : signedText(1000 * (to - place), 1, '')}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </div>
  );
}
