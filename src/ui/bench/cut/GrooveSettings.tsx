'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Feel } from '@/core/recipes/recipe';
import { feelOf } from '@/core/recipes/hitMoves';
import { clearHits } from '@/core/rhythm/clearHits';
import { fetchShelf } from '../../api/shelf';
import { entryQuery } from '../../api/useEntry';
import { Button } from '../../kit/Button';
import { TextField } from '../../kit/Field';
import { percentText, signedText } from '@/words/figures';
import { keepKeysFree } from '../../kit/pressedByMouse';
import { Slider } from '../../kit/Slider';
import { tell } from '../../kit/useAction';
import { useBenchModel } from '../useBenchModel';

/** Places of a felt beat whose feel is told apart. */
const PARTS = 4;
/** The trace reaches so far to both sides, ms. */
const REACH_MS = 40;

/** The groove of another saved sample: found by its name, measured, shown, applied by a share. */
export function GrooveSettings() {
  const { bench, cut } = useBenchModel();
  const queries = useQueryClient();
  const [text, setText] = useState('');
  const { hits } = cut.draft;
  const own = bench.entry.summary.sampleId;
  const { data } = useQuery({
    queryKey: ['shelf', 'feel', text],
    queryFn: ({ signal }) =>
      fetchShelf(new URLSearchParams({ text, limit: '6', sort: 'name', direction: 'up' }), signal),
    enabled: text.trim().length > 1,
  });
  const take = async (sampleId: string) => {
    const { settled, measurement, summary } = await queries.fetchQuery(entryQuery(sampleId));
    const found =
      settled.grid && measurement && feelOf(clearHits(measurement.onsets), settled.grid, PARTS, summary.name);
    if (!found || found.lateMs.every((ms) => ms === null))
      throw new Error(`“${summary.name}” has too few hits for a groove.`);
    setText('');
    cut.change({ hits: { ...hits, feel: found } });
  };
  return (
    <div className="space-y-1">
      {hits.feel ? (
        <>
          <div className="flex items-center justify-between gap-1">
            <span className="min-w-0 truncate">
              groove of <b>{hits.feel.of}</b>
            </span>
            <Button small onClick={() => cut.change({ hits: { ...hits, feel: null } })}>
              Remove
            </Button>
          </div>
          <FeelTrace feel={hits.feel} />
          <Slider
            label="Amount"
            min={0}
            max={1}
            value={hits.feelShare}
            text={percentText}
            onValue={(feelShare) => cut.change({ hits: { ...hits, feelShare } })}
          />
        </>
      ) : (
        <>
          <TextField
            aria-label="Groove of another sample"
            placeholder="groove of another sample…"
            small
            className="w-full"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          {text.trim().length > 1 && (
            <ul className="border border-rule">
              {data?.rows
                .filter(({ sampleId, tempoBpm }) => sampleId !== own && tempoBpm !== null)
                .map(({ sampleId, name }) => (
                  <li key={sampleId}>
                    <button
                      type="button"
                      onMouseDown={keepKeysFree}
                      className="block w-full truncate px-1.5 py-0.5 text-left hover:bg-wash-ink"
                      onClick={() => void take(sampleId).catch(tell)}
                    >
                      {name}
                    </button>
                  </li>
                ))}
              {data?.rows.length === 0 && (
                <li className="px-1.5 text-ink-soft">no saved sample has this name</li>
              )}
            </ul>
          )}
        </>
      )}
    </div>
  );
}

/** How late the hits are at each place of the bar: a mark above its line is early, below it late. */
function FeelTrace({ feel: { lateMs, parts } }: { feel: Feel }) {
  const width = 220;
  const place = (i: number) => ((i + 0.5) / lateMs.length) * width;
  const words = lateMs.flatMap((ms, i) =>
    ms === null ? [] : [`${Math.floor(i / parts) + 1}.${(i % parts) + 1}: ${signedText(ms, 1, 'ms')}`],
  );
  return (
    <svg
      viewBox={`0 0 ${width} 48`}
      className="h-12 w-full bg-paper"
      role="img"
      aria-label={`Groove by place in the bar. ${words.join(', ')}`}
    >
      <title>{words.join('\n')}</title>
      <line x1="0" x2={width} y1="24" y2="24" stroke="var(--rule-strong)" />
      {lateMs.map((ms, i) => (
        <g key={i}>
          <line
            x1={place(i)}
            x2={place(i)}
            y1={i % parts === 0 ? 4 : 16}
            y2={i % parts === 0 ? 44 : 32}
            stroke="var(--rule)"
          />
          {ms !== null && (
            <circle
              cx={place(i)}
              cy={24 + (20 * Math.max(-REACH_MS, Math.min(REACH_MS, ms))) / REACH_MS}
              r="2.5"
              fill="var(--trace)"
            />
          )}
        </g>
      ))}
    </svg>
  );
}
