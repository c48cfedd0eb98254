import { z } from 'zod';
import { keyValue } from '../harmony/keyValue';
import { keyLabel, pitchClassOf, type Key } from '../harmony/keyNames';
import { median } from '../math/median';
import type { Measurement } from '../measurement/schema';
import { tempoRelation } from '../readings/tempoRelation';
import { gridValue } from '../rhythm/grid';
import type { RenderPlan } from './renderPlan';
import type { Made } from './compose';

/** In what a file that was made is not what was planned. */
export const PLAN_FAULTS = ['length', 'tempo', 'key', 'tuning', 'hits'] as const;
export type PlanFault = (typeof PLAN_FAULTS)[number];

/** They were kept as sentences once. */
function fromSentence(kept: unknown): unknown {
  if (typeof kept !== 'string' || (PLAN_FAULTS as readonly string[]).includes(kept)) return kept;
  if (/frames long/.test(kept)) return 'length';
  if (/BPM instead/.test(kept)) return 'tempo';
  if (/cents off/.test(kept)) return 'tuning';
  return /ms from/.test(kept) ? 'hits' : 'key';
}
export const planFault = z.preprocess(fromSentence, z.enum(PLAN_FAULTS));

/** What a derived sample was to become, as far as it can be measured; seconds, frames of what is written. */
export const planned = z.object({
  frames: z.int(),
  sampleRate: z.int(),
  grid: gridValue.nullable(),
  bars: z.number().nullable(),
  key: keyValue.nullable(),
  tuningCents: z.number().nullable(),
  hits: z.array(z.number()),
  /** How much quieter it was made so that it does not clip, dB. */
  quieterDb: z.number(),
  peak: z.number(),
});
export type Planned = z.infer<typeof planned>;

/** How far what was written is from what was planned. */
export const differences = z.object({
  frames: z.object({ planned: z.int(), written: z.int() }),
  tempo: z.object({ planned: z.number(), measured: z.number() }).nullable(),
  key: z.object({ planned: z.string(), measured: z.string() }).nullable(),
  /** Measured minus planned, cents. */
  tuningCents: z.number().nullable(),
  /** Hits that were found where they were planned, of so many; how late the first, the last and (in the middle) all are, ms. */
  hits: z
    .object({ found: z.int(), of: z.int(), firstMs: z.number(), lastMs: z.number(), usualMs: z.number() })
    .nullable(),
  quieterDb: z.number(),
  /** In what bounds were passed; nothing where it is what was planned. */
  faults: z.array(planFault),
});
export type Differences = z.infer<typeof differences>;

/** A hit is found when one was measured no farther away, seconds. */
const FOUND = 0.02;
/** So much may a measured tempo differ, as a share; more where measuring itself is less sure. */
const TEMPO_BOUND = 0.0005;
const HITS_BOUND_MS = 2;
const TUNING_BOUND_CENTS = 10;
/** Below this a measured key is a guess. */
const SURE_KEY = 0.6;
/** Fewer are too few to say anything. */
const FEW_HITS = 4;

/** Compares a plan with what was measured of the file that came of it. */
export function differencesOf(plan: Planned, found: Measurement): Differences {
  const faults: PlanFault[] = [];
  const written = Math.round(found.durationSeconds * plan.sampleRate);
  if (written !== plan.frames) faults.push('length');

  const tempo = tempoOf(plan, found);
  if (tempo) {
    const bound = Math.max(TEMPO_BOUND, (4 * (found.tempo!.bpmError ?? 0)) / tempo.planned);
    if (Math.abs(tempo.measured / tempo.planned - 1) > bound) faults.push('tempo');
  }

  const key = keyOf(plan, found);
  if (key && key.measured !== key.planned && found.key!.sureness >= SURE_KEY && !isRelative(plan.key!, found))
    faults.push('key');

  const tuningCents =
    plan.tuningCents !== null && found.tuningCents !== null && plan.key
      ? wrapped(found.tuningCents - plan.tuningCents)
      : null;
  if (tuningCents !== null && Math.abs(tuningCents) > TUNING_BOUND_CENTS && found.key) faults.push('tuning');

  const hits = hitsOf(plan, found);
  if (hits && hits.of >= FEW_HITS && Math.abs(hits.usualMs) > HITS_BOUND_MS) faults.push('hits');
  return {
    ...{ frames: { planned: plan.frames, written }, tempo, key, tuningCents, hits, faults },
    quieterDb: plan.quieterDb,
  };
}

/** What a plan and what was made come to as data that is kept. `scale`: frames written for each that was made. */
export function plannedOf(plan: RenderPlan, made: Made, frames: number, sampleRate: number): Planned {
  const { grid, bars, key, tuningCents, hits } = plan;
  return {
    ...{ frames, sampleRate, grid, bars, key, tuningCents, quieterDb: made.quieterDb, peak: made.peak },
    hits: hits.map((hit) => Math.round(hit * 1e6) / 1e6),
  };
}

function tempoOf({ grid, frames, sampleRate }: Planned, { tempo }: Measurement): Differences['tempo'] {
  if (!grid || grid.movingBeats || !tempo?.steady) return null;
  // Half and double are the same tempo told otherwise; of very few beats nothing is told.
  if ((frames / sampleRate) * (grid.tempoBpm / 60) < 6) return null;
  const { ratio } = tempoRelation(tempo.bpm, grid.tempoBpm);
  return { planned: grid.tempoBpm, measured: ratio ? tempo.bpm / ratio : tempo.bpm };
}

function keyOf({ key }: Planned, found: Measurement): Differences['key'] {
  const measured = measuredKey(found);
  return key && measured ? { planned: keyLabel(key), measured: keyLabel(measured) } : null;
}

function measuredKey({ key }: Measurement): Key | null {
  const tonic = key && pitchClassOf(key.tonic);
  return key && tonic !== null ? { tonic, mode: key.mode } : null;
}

/** Relative keys have the same notes: which of them a short piece is in may well be told otherwise. */
function isRelative(planned: Key, found: Measurement): boolean {
  const measured = measuredKey(found)!;
  const minor = planned.mode === 'minor' ? planned : measured;
  const major = planned.mode === 'minor' ? measured : planned;
  return planned.mode !== measured.mode && (minor.tonic + 3) % 12 === major.tonic;
}

const wrapped = (cents: number) => cents - 100 * Math.round(cents / 100);

function hitsOf({ hits }: Planned, { onsets }: Measurement): Differences['hits'] {
  const late: number[] = [];
  let i = 0;
  for (const hit of hits) {
    while (i + 1 < onsets.length && Math.abs(onsets[i + 1].time - hit) <= Math.abs(onsets[i].time - hit)) i++;
    const away = onsets[i] ? onsets[i].time - hit : Infinity;
    if (Math.abs(away) <= FOUND) late.push(1000 * away);
  }
  if (late.length === 0) return null;
  return {
    found: late.length,
    of: hits.length,
    firstMs: late[0],
    lastMs: late[late.length - 1],
    usualMs: median(late),
  };
}
