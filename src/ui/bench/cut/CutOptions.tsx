'use client';
import type { ReactNode } from 'react';
import {
  COUNTED_WITH,
  EVENINGS,
  FADE_SHAPES,
  FORMATS,
  LONGEST_TAIL,
  NOTE_PARTS,
  RATES,
  TAILS,
  type Recipe,
  type WriteFormat,
} from '@/core/recipes/recipe';
import { TEMPLATE_FIELDS } from '@/library/samples/nameTemplate';
import { EDGES, type Edge } from '@/core/recipes/edges';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import { Button } from '../../pieces/Button';
import { Labelled, TextField } from '../../pieces/Field';
import { bpmText, formatText } from '../../pieces/figures';
import { KeySelect } from '../../pieces/KeySelect';
import { keyWays } from '@/core/fit/proposal';
import { aimOf, useTarget } from '../../target/target';
import type { Bench } from '../useBench';
import { Check, Choice, NumberIn, Share } from './OptionFields';
import { FeelPart } from './FeelPart';
import { PiecesPart } from './PiecesPart';
import type { Cut } from './useCut';

interface Props {
  bench: Bench;
  cut: Cut;
  onMake: (recipes: readonly Recipe[]) => Promise<void>;
}

const EDGE_WORDS: Readonly<Record<Edge, string>> = {
  grid: 'on the grid',
  attack: 'on the attack',
  body: 'on its body',
  'zero crossing': 'zero crossing, ± 2 ms',
  quietest: 'quietest turn, ± 5 ms',
};

/** What is said of the edges in numbers. */
const EDGE_NUMBERS = [
  { field: 'pickupBeats', label: 'Pickup kept', unit: 'beats', most: 64 },
  { field: 'crossfadeMs', label: 'Crossfade', unit: 'ms', most: 2000 },
  { field: 'fadeInMs', label: 'Fade in', unit: 'ms', most: 10_000 },
  { field: 'fadeOutMs', label: 'Fade out', unit: 'ms', most: 10_000 },
] as const;

/** Everything that can be done beside choosing bars: edges, tempo and key, hits, how it is written. */
export function CutOptions({ bench, cut, onMake }: Props) {
  const { draft, change, making } = cut;
  const { grid, entry } = bench;
  const { region, time, pitch, write } = draft;
  const target = aimOf(useTarget());
  const own = entry.settled.key && 'tonic' in entry.settled.key ? entry.settled.key : null;
  const setRegion = (patch: Partial<NonNullable<typeof region>>) =>
    region && change({ region: { ...region, ...patch } });
  const setTime = (patch: Partial<typeof time>) => change({ time: { ...time, ...patch } });
  const setPitch = (patch: Partial<typeof pitch>) => change({ pitch: { ...pitch, ...patch } });
  const setWrite = (patch: Partial<typeof write>) => change({ write: { ...write, ...patch } });
  const size = grid ? feltBeatsPerBar(grid.meter) : 4;
  const beats = region ? (region.to - region.from) * time.level : null;
  const near = beats === null ? null : Math.max(1, Math.round(beats / size)) * size;
  const moves = Boolean(grid?.movingBeats);
  const isPlayed = entry.summary.format === 'midi';
  return (
    <div
      className="w-60 shrink-0 overflow-y-auto border-l border-rule-strong p-2 text-small"
      aria-label="How it is made"
      role="group"
    >
      {region && (
        <Group title="Edges" open>
          <Choice
            label="Cut"
            value={draft.edge}
            options={[
              ...EDGES.map((edge): [string, string] => [edge, EDGE_WORDS[edge]]),
              ...(draft.edge === 'as it was' ? [['as it was', 'where it was cut before'] as const] : []),
            ]}
            onChange={(edge) => change({ edge: edge as Edge })}
          />
          <Choice
            label="Tail"
            value={region.tail}
            options={TAILS.map((tail) => [tail, tail])}
            onChange={(tail) =>
              setRegion({
                tail: tail as (typeof TAILS)[number],
                tailSeconds: tail === 'cut' ? 0 : region.tailSeconds || 0.5,
                ...(tail === 'cut' ? {} : { crossfadeMs: 0 }),
              })
            }
          />
          {region.tail !== 'cut' && (
            <NumberIn
              label="of"
              unit="s"
              value={region.tailSeconds}
              least={0.01}
              most={LONGEST_TAIL}
              onValue={(tailSeconds) => setRegion({ tailSeconds })}
            />
          )}
          {EDGE_NUMBERS.map(({ field, label, unit, most }) => (
            <NumberIn
              key={field}
              label={label}
              unit={unit}
              value={region[field]}
              least={0}
              most={most}
              onValue={(value) => setRegion({ [field]: value })}
            />
          ))}
          {region.crossfadeMs + region.fadeInMs + region.fadeOutMs > 0 && (
            <Choice
              label="Shape"
              value={region.shape}
              options={FADE_SHAPES.map((shape) => [shape, shape])}
              onChange={(shape) => setRegion({ shape: shape as (typeof FADE_SHAPES)[number] })}
            />
          )}
          <Check
            label="silence for what is missing at the end"
            value={region.pad}
            onValue={(pad) => setRegion({ pad })}
          />
          <NumberIn
            label="Heard"
            unit="times"
            value={draft.times}
            least={1}
            most={4096}
            whole
            onValue={(times) => change({ times })}
          />
          {making && (
            <NumberIn
              label="as long as"
              unit="min"
              value={null}
              placeholder={((draft.times * making.body) / making.rate / 60).toFixed(2)}
              least={0.01}
              most={60}
              onValue={(minutes) =>
                change({
                  times: Math.max(1, Math.min(4096, Math.round((60 * minutes * making.rate) / making.body))),
                })
              }
              onNone={() => {}}
            />
          )}
          <Check
            label="with what stands around it"
            value={draft.keepAround}
            onValue={(keepAround) => change({ keepAround })}
          />
        </Group>
      )}
      {grid && (
        <Group title="Tempo" open>
          <NumberIn
            label="BPM"
            value={time.tempoBpm}
            least={10}
            most={1000}
            placeholder={bpmText(grid.tempoBpm)}
            onValue={(tempoBpm) => setTime({ tempoBpm })}
            onNone={() => setTime({ tempoBpm: null })}
          />
          <div className="flex flex-wrap gap-1">
            <Button className="h-6 px-1.5" onClick={() => setTime({ tempoBpm: Math.round(grid.tempoBpm) })}>
              whole: {Math.round(grid.tempoBpm)}
            </Button>
            {target.tempoBpm !== null && (
              <Button className="h-6 px-1.5" onClick={() => setTime({ tempoBpm: target.tempoBpm })}>
                the target’s {bpmText(target.tempoBpm)}
              </Button>
            )}
          </div>
          {moves && (
            <Choice
              label="Evened out"
              value={time.even}
              options={EVENINGS.map((even) => [even, even === 'no' ? 'no, it moves' : `${even} by ${even}`])}
              onChange={(even) => setTime({ even: even as (typeof EVENINGS)[number] })}
            />
          )}
          {near !== null && (
            <Check
              label={`exactly ${near / size} ${near === size ? 'bar' : 'bars'}, to the frame`}
              value={time.exactBeats === near}
              onValue={(on) => setTime({ exactBeats: on ? near : null })}
            />
          )}
          <NumberIn
            label="Count-in"
            unit="bars"
            value={draft.countInBars}
            least={0}
            most={8}
            whole
            onValue={(countInBars) => change({ countInBars })}
          />
          {draft.countInBars > 0 && (
            <Choice
              label="with"
              value={draft.countInWith}
              options={COUNTED_WITH.map((one) => [one, one])}
              onChange={(one) => change({ countInWith: one as (typeof COUNTED_WITH)[number] })}
            />
          )}
          <Check
            label="only the click, as long as it would be"
            value={draft.clickOnly}
            onValue={(clickOnly) => change({ clickOnly })}
          />
        </Group>
      )}
      <Group title="Pitch">
        <NumberIn
          label="Semitones"
          value={pitch.semitones}
          least={-24}
          most={24}
          onValue={(semitones) => setPitch({ semitones })}
        />
        <NumberIn
          label="Cents"
          value={pitch.cents}
          least={-100}
          most={100}
          onValue={(cents) => setPitch({ cents })}
        />
        {own && (
          <Labelled label="To the key" inline>
            <KeySelect
              className="h-6 min-w-0 flex-1"
              value={null}
              none="…"
              onChange={(key) => key && setPitch({ semitones: keyWays(own, key)[0].semitones })}
            />
          </Labelled>
        )}
        <Check
          label="formants held, for voices"
          value={pitch.holdFormants}
          onValue={(holdFormants) => setPitch({ holdFormants })}
        />
        <Check
          label="as a tape: pitch follows speed"
          value={pitch.tape}
          onValue={(tape) =>
            setPitch({
              tape,
              ...(tape && grid && time.tempoBpm
                ? { semitones: 12 * Math.log2(time.tempoBpm / (grid.tempoBpm * time.level)), cents: 0 }
                : { semitones: 0 }),
            })
          }
        />
      </Group>
      {grid && (
        <Group title="Hits">
          <Share
            label="Drawn to the grid"
            value={draft.hits.pull}
            onValue={(pull) => change({ hits: { ...draft.hits, pull } })}
          />
          {draft.hits.pull > 0 && (
            <>
              <Choice
                label="Beat in"
                value={String(draft.hits.parts)}
                options={NOTE_PARTS.map((parts) => [
                  String(parts),
                  parts === 1 ? 'whole beats' : `${parts} parts`,
                ])}
                onChange={(parts) => change({ hits: { ...draft.hits, parts: Number(parts) } })}
              />
              <NumberIn
                label="No farther than"
                unit="ms"
                value={draft.hits.windowMs}
                least={1}
                most={250}
                onValue={(windowMs) => change({ hits: { ...draft.hits, windowMs } })}
              />
              <Choice
                label="Swing"
                value={draft.hits.swing === null ? 'kept' : String(draft.hits.swing)}
                options={[
                  ['kept', 'as it is played'],
                  ['0.5', 'straight'],
                  ['0.58', '0.58'],
                  ['0.62', '0.62'],
                  ['0.6666666666666666', 'a triplet, 0.67'],
                ]}
                onChange={(swing) =>
                  change({ hits: { ...draft.hits, swing: swing === 'kept' ? null : Number(swing) } })
                }
              />
            </>
          )}
          <FeelPart bench={bench} cut={cut} />
          {draft.hits.moves.length > 0 && (
            <Button className="h-6 w-full" onClick={() => change({ hits: { ...draft.hits, moves: [] } })}>
              All {draft.hits.moves.length} moved hits back
            </Button>
          )}
          <p className="text-tiny text-ink-soft">
            Single hits are pulled at the foot of the picture; pressed twice they go back.
          </p>
        </Group>
      )}
      <Group title="Written as" open>
        <Choice
          label="Format"
          value={write.format}
          options={FORMATS.filter((format) => format !== 'midi' || isPlayed).map((format) => [
            format,
            formatText(format),
          ])}
          onChange={(format) => setWrite({ format: format as WriteFormat })}
        />
        <Choice
          label="Rate"
          value={String(write.sampleRate ?? '')}
          options={[
            ['', 'as it is'],
            ...RATES.map((rate): [string, string] => [String(rate), `${rate / 1000} kHz`]),
          ]}
          onChange={(rate) => setWrite({ sampleRate: rate === '' ? null : Number(rate) })}
        />
        <NumberIn
          label="Gain"
          unit="dB"
          value={write.gainDb}
          least={-60}
          most={24}
          onValue={(gainDb) => setWrite({ gainDb })}
        />
        <Choice
          label="Too loud"
          value={write.tooLoud}
          options={[
            ['quieter', 'made quieter, and said'],
            ['refuse', 'not made'],
          ]}
          onChange={(tooLoud) => setWrite({ tooLoud: tooLoud as 'quieter' })}
        />
        <Labelled label="Name">
          <TextField
            className="figures w-full"
            value={draft.template}
            maxLength={200}
            title={Object.entries(TEMPLATE_FIELDS)
              .map(([field, words]) => `{${field}}: ${words}`)
              .join('\n')}
            onChange={(event) => change({ template: event.target.value })}
          />
        </Labelled>
      </Group>
      {grid && (
        <Group title="In pieces">
          <PiecesPart bench={bench} cut={cut} onMake={onMake} />
        </Group>
      )}
      <Button className="mt-2 w-full" onClick={cut.reset}>
        Begin anew
      </Button>
    </div>
  );
}

function Group({ title, open = false, children }: { title: string; open?: boolean; children: ReactNode }) {
  return (
    <details open={open} className="mb-2 border-b border-rule pb-2">
      <summary className="cursor-pointer font-semibold">{title}</summary>
      <div className="mt-1 space-y-1.5">{children}</div>
    </details>
  );
}
