import { z } from 'zod';

/** Why something was not measured or is unsure: a code, with its figure. Words are `words/remarks`. */
const remark = z.discriminatedUnion('code', [
  z.object({ code: z.literal('only silence') }),
  z.object({ code: z.literal('only drums') }),
  z.object({ code: z.literal('no root') }),
  z.object({ code: z.literal('no key') }),
  z.object({ code: z.literal('one-shot') }),
  z.object({ code: z.literal('nothing repeats') }),
  z.object({ code: z.literal('speech') }),
  z.object({ code: z.literal('tempo moves') }),
  z.object({ code: z.literal('another tempo'), bpm: z.number() }),
  /** The tempi of the library's proved samples decided; by itself it would have been this one. */
  z.object({ code: z.literal('as in library'), bpm: z.number() }),
]);
export type Remark = z.infer<typeof remark>;

/** They were kept as sentences once, by which they are told. */
const SENTENCES: readonly [RegExp, Exclude<Remark['code'], 'another tempo' | 'as in library'>][] = [
  [/only silence/, 'only silence'],
  [/only drums/, 'only drums'],
  [/no root/, 'no root'],
  [/lasting tone/, 'no key'],
  [/one-shot has no tempo/, 'one-shot'],
  [/repeats often enough/, 'nothing repeats'],
  [/like speech/, 'speech'],
  [/tempo moves/, 'tempo moves'],
];
function fromSentence(kept: unknown): unknown[] {
  if (typeof kept !== 'string') return [kept];
  const bpm = /could also be ([\d.]+) BPM/.exec(kept)?.[1];
  if (bpm) return [{ code: 'another tempo', bpm: Number(bpm) }];
  const code = SENTENCES.find(([words]) => words.test(kept))?.[1];
  return code ? [{ code }] : [];
}

export const remarks = z.preprocess(
  (kept) => (Array.isArray(kept) ? kept.flatMap(fromSentence) : kept),
  z.array(remark),
);
