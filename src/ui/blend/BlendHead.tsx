'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { CUSTOMS, type Custom } from '@/contract/blend';
import { takenFrom } from '@/library/blend/newcomer';
import { Button } from '../pieces/Button';
import { fieldClass, TextField } from '../pieces/Field';
import { bpmText } from '../pieces/figures';
import { KeySelect } from '../pieces/KeySelect';
import { numberIn } from '../pieces/useTyped';
import { keepKeysFree } from '../pieces/pressedByMouse';
import { SteppedName, Steps } from '../stepped/SteppedHead';
import { setTarget } from '../target/target';
import { ComesOut } from './ComesOut';
import { movesWords } from './blendWords';
import { TempoOfBlend } from './TempoOfBlend';
import type { BlendHand } from './useBlend';
import type { Scored } from './useScore';

/** What a blend is called, its tempo and key, what becomes of newcomers, and what comes out. */
export function BlendHead({ hand, scored }: { hand: BlendHand; scored: Scored }) {
  const { state } = hand;
  const lead = state.lanes.find(({ laneId }) => laneId === state.lead);
  const leadFacts = lead ? scored.facts.get(lead.sampleId) : null;
  const movement = leadFacts ? takenFrom(leadFacts)?.movement : null;
  return (
    <div
      role="group"
      aria-label="Blend"
      className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule-strong bg-sheet px-4 py-1 text-small whitespace-nowrap"
    >
      <Link href="/blend" className="text-ink-soft underline-offset-2 hover:underline" title="All blends">
        Blends /
      </Link>
      <SteppedName
        kind="blend"
        className="w-44"
        name={state.name}
        onSet={(name) => hand.set({ name }, `called “${name}”`)}
      />
      <TempoOfBlend
        tempoBpm={state.tempoBpm}
        moves={(bpm) => movesWords(scored.score, bpm)}
        onSet={(tempoBpm) => hand.set({ tempoBpm }, `${bpmText(tempoBpm)} BPM`)}
      />
      <KeySelect
        label="Key of the blend"
        className="w-28"
        value={state.key}
        none="no key"
        onChange={(key) => hand.set({ key }, key ? 'another key' : 'no key')}
      />
      <TempoChanges hand={hand} bars={scored.score.bars} />
      {movement && (
        <Button
          pressed={state.movement !== null}
          title={
            state.movement
              ? 'All follow the movement of the lead, bar by bar; press for one tempo'
              : 'The lead is evened out; press to keep its movement'
          }
          onClick={() =>
            hand.set(
              { movement: state.movement ? null : movement },
              state.movement ? 'the lead evened out' : 'the lead keeps its movement',
            )
          }
        >
          keeps its movement
        </Button>
      )}
      <label className="flex items-center gap-1.5">
        <span className="text-ink-soft">put in:</span>
        <select
          aria-label="What becomes of the tempo when a sample is put in"
          className={`${fieldClass} px-1!`}
          value={state.custom}
          onChange={({ target: { value } }) => hand.set({ custom: value as Custom }, value)}
        >
          {CUSTOMS.map((custom) => (
            <option key={custom} value={custom}>
              {custom}
            </option>
          ))}
        </select>
      </label>
      <span className="ml-auto flex items-center gap-1">
        <Steps hand={hand} />
        <Button
          disabled={state.tempoBpm === null}
          title="The Shelf plays everything at the tempo and key of this blend"
          onClick={() => {
            setTarget({ isOn: true, tempoBpm: state.tempoBpm, key: state.key });
            toast.success('The Shelf plays at the tempo and key of this blend now.');
          }}
        >
          As target
        </Button>
        <ComesOut hand={hand} scored={scored} />
      </span>
    </div>
  );
}

/** Tempi from bar to bar. */
function TempoChanges({ hand, bars }: { hand: BlendHand; bars: number }) {
  const { changes, tempoBpm, movement } = hand.state;
  const [bar, setBar] = useState('5');
  const [tempo, setTempo] = useState('');
  if (tempoBpm === null || movement) return null;
  const wanted = { bar: Math.round(numberIn(bar) ?? 0), tempoBpm: numberIn(tempo) ?? 0 };
  const isGood = wanted.bar >= 2 && wanted.bar <= 2000 && wanted.tempoBpm >= 20 && wanted.tempoBpm <= 400;
  return (
    <Popover className="relative">
      <PopoverButton
        onMouseDown={keepKeysFree}
        className="inline-flex h-7 items-center border border-rule-strong px-2 hover:bg-wash-ink"
      >
        {changes.length === 0
          ? 'one tempo'
          : `${changes.length} tempo ${changes.length === 1 ? 'change' : 'changes'}`}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: 'bottom start', gap: 4 }}
        className="z-30 w-64 space-y-2 border border-ink bg-paper p-3 text-small"
      >
        <ul aria-label="Tempo changes">
          <li className="figures">
            bar 1 <b>{bpmText(tempoBpm)}</b>
          </li>
          {changes.map((change) => (
            <li key={change.bar} className="flex items-center gap-2">
              <span className="figures flex-1">
                bar {change.bar} <b>{bpmText(change.tempoBpm)}</b>
              </span>
              <Button
                className="h-6"
                onClick={() =>
                  hand.set(
                    { changes: changes.filter((one) => one !== change) },
                    `no change at bar ${change.bar}`,
                  )
                }
              >
                take out
              </Button>
            </li>
          ))}
        </ul>
        <form
          className="flex items-center gap-1.5"
          onSubmit={(event) => {
            event.preventDefault();
            if (isGood)
              hand.set(
                { changes: [...changes.filter((one) => one.bar !== wanted.bar), wanted] },
                `${bpmText(wanted.tempoBpm)} BPM from bar ${wanted.bar} on`,
              );
          }}
        >
          from bar
          <TextField
            aria-label="Bar of the change"
            className="figures w-12"
            value={bar}
            onChange={(event) => setBar(event.target.value)}
          />
          <TextField
            aria-label="Tempo from there, BPM"
            className="figures w-16"
            placeholder="BPM"
            value={tempo}
            onChange={(event) => setTempo(event.target.value)}
          />
          <Button type="submit" disabled={!isGood}>
            Set
          </Button>
        </form>
        <p className="text-tiny text-ink-soft">
          The blend is {bars} {bars === 1 ? 'bar' : 'bars'} long. Lanes held in bars follow, those held in
          time keep their seconds.
        </p>
      </PopoverPanel>
    </Popover>
  );
}
