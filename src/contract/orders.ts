import { hanging } from './bin';
import { z } from 'zod';
import { sampleKind } from '@/core/measurement/schema';
import { readingValue, SOURCES } from '@/core/readings/reading';
import { meterValue } from '@/core/rhythm/grid';
import { VERDICTS } from './entry';
import { tempoRange } from './settings';
import { settledState } from './settled';

/** Screens that steps are made on; each undoes its own. */
const STEP_SCREENS = ['intake', 'shelf', 'bench', 'blend'] as const;
export type StepScreen = (typeof STEP_SCREENS)[number];
/** null: of none, as what a script does. */
export const stepScreen = z.enum(STEP_SCREENS).nullable().default(null);

/** A sample and the revision of it that was seen; a change to another one is refused. `base` null: whatever it is. */
const target = z.object({ sampleId: z.uuid(), base: z.int().positive().nullable() });
export type Target = z.infer<typeof target>;

const measurableReading = readingValue.and(
  z.object({
    // `detector`: a stretch that was measured on the Bench.
    source: z.enum(['detector', 'taps', 'length', 'pins', 'typed']),
    sureness: z.number().min(0).max(1),
    detail: z.string().max(300),
  }),
);

/** Parts of the settled state that become something else, as a hand on the Bench makes them. */
const settleOrder = z.object({
  do: z.literal('settle'),
  words: z.string().min(1).max(300),
  patch: settledState.partial(),
  /** A reading that the change rests on, recorded with it and chosen for its property. */
  reading: measurableReading.nullable().default(null),
});
export type NewReading = z.infer<typeof measurableReading>;

const proveOrder = z.object({
  do: z.literal('prove'),
  verdict: z.enum(VERDICTS),
  /** Labels of the places that were listened to, with what was heard there. */
  heard: z.array(z.object({ label: z.string(), verdict: z.enum(VERDICTS).nullable() })).max(50),
});

/** Along the revisions of a sample; what somebody else did is undone only when that is meant. */
const undoOrder = z.object({ do: z.literal('undo'), evenForeign: z.boolean().default(false) });
const redoOrder = z.object({ do: z.literal('redo') });
const returnOrder = z.object({ do: z.literal('return'), sequence: z.int().positive() });

const saveOrder = z.object({ do: z.literal('save') });
const unsaveOrder = z.object({ do: z.literal('unsave') });
const binOrder = z.object({ do: z.literal('bin') });
const restoreOrder = z.object({ do: z.literal('restore') });

/** What is asked of one sample from its own page. */
const sampleOrder = z.discriminatedUnion('do', [
  settleOrder,
  proveOrder,
  undoOrder,
  redoOrder,
  returnOrder,
  saveOrder,
  unsaveOrder,
  binOrder,
  restoreOrder,
]);

/** What can be asked of many samples at once. */
const bulkOrder = z.discriminatedUnion('do', [
  /** Takes what is settled as right; only those whose tempo is surer than `above`, when it is given. */
  z.object({ do: z.literal('accept'), above: z.number().min(0).max(1).nullable() }),
  /** Multiplies the tempo. */
  z.object({ do: z.literal('scale'), ratio: z.number().min(0.125).max(8) }),
  /** Settles the tempo and key that a source says. */
  z.object({ do: z.literal('choose'), source: z.enum(SOURCES) }),
  z.object({ do: z.literal('tags'), add: settledState.shape.tags, remove: settledState.shape.tags }),
  z.object({ do: z.literal('rename'), template: z.string().trim().min(1).max(200) }),
  z.object({ do: z.literal('kind'), kind: sampleKind.nullable() }),
  /** Writes what stands beside the measures. */
  z.object({
    do: z.literal('write'),
    patch: settledState.pick({ rating: true, origin: true, licence: true, note: true }).partial(),
  }),
  binOrder,
  restoreOrder,
]);
type BulkOrder = z.infer<typeof bulkOrder>;

/** Vouches for a sample by its figures, without an ear. */
interface FiguresOrder {
  do: 'prove by figures';
}

export type Order = z.infer<typeof sampleOrder> | BulkOrder | FiguresOrder;

export const sampleRequest = z.object({ base: target.shape.base, order: sampleOrder });
export type SampleRequest = z.input<typeof sampleRequest>;

/** Asks for a measurement instead of a change. */
const measureOrder = z.object({
  do: z.literal('measure'),
  range: tempoRange.nullable(),
  meter: meterValue.nullable(),
  /** With the tempo that most of them agree on as one that somebody says. */
  together: z.boolean().default(false),
});

/** How many samples one request may name; longer lists go in several that share a step. */
export const BULK_AT_ONCE = 200;

export const bulkRequest = z.object({
  order: z.discriminatedUnion('do', [...bulkOrder.options, measureOrder]),
  targets: z.array(target).min(1).max(BULK_AT_ONCE),
  /** The step that these belong to, by its sender's id for it; null: one of their own. */
  step: z.uuid().nullable().default(null),
  screen: stepScreen,
});
type BulkRequest = z.input<typeof bulkRequest>;
export type BulkAction = BulkRequest['order'];

/** A sample to which something was not done, and why, in a sentence. */
const refusal = z.object({ sampleId: z.uuid(), name: z.string(), why: z.string() });

export const bulkResult = z.object({
  stepId: z.number(),
  words: z.string(),
  done: z.number(),
  hanging,
  /** The samples that were changed, each with the revision that was made. */
  made: z.array(target),
  refused: z.array(refusal),
});
export type BulkResult = z.infer<typeof bulkResult>;

export const bulkUndone = z.object({
  words: z.string(),
  undone: z.number(),
  /** Samples of the step that it was not done to yet: asked again, it goes on with them. */
  left: z.number(),
  /** The samples that were changed, each with the revision that it has again. */
  made: z.array(target),
  refused: z.array(refusal),
});
export type BulkUndone = z.infer<typeof bulkUndone>;

const step = z.object({ stepId: z.number(), words: z.string(), madeBy: z.string().nullable() });

/** The newest step of a screen that can be undone, and the one that can be redone, with who made them. */
export const bulkSteps = z.object({ undo: step.nullable(), redo: step.nullable() });
export type BulkSteps = z.infer<typeof bulkSteps>;

/** Proofs of several samples by their figures alone. */
export const figuresProofRequest = z.object({ sampleIds: z.array(z.uuid()).min(1).max(1000) });
export const figuresProofResult = z.object({ proved: z.number(), refused: z.array(refusal) });
export type FiguresProofResult = z.infer<typeof figuresProofResult>;
