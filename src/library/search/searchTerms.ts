import { ALL_KEYS, keyLabel, pitchClassOf } from '@/core/harmony/keyNames';
import type { SampleKind } from '@/core/measurement/schema';
import { FACETS, FACET_NAMES } from '@/core/tags/facets';

/** What words of a search mean beside letters that stand somewhere. */
interface Meant {
  tempoFrom?: number;
  tempoTo?: number;
  keyTonic?: number;
  keyMode?: 'major' | 'minor';
  beatsPerBar?: number;
  beatUnit?: number;
  bars?: number;
  kind?: SampleKind;
  /** "part:bass" */
  tag?: string;
  proof?: 'proved' | 'unproved';
}

/** Words that were understood as a measure. */
export interface Term {
  /** Where they stand in what was typed. */
  from: number;
  to: number;
  /** As what they were understood, "tempo 90 to 95". */
  words: string;
  meant: Meant;
}

/** What is called slow and fast, BPM. */
const SLOW_UNTIL = 85;
const FAST_FROM = 135;

const KINDS: Readonly<Record<string, SampleKind>> = {
  song: 'song',
  songs: 'song',
  loop: 'loop',
  loops: 'loop',
  stem: 'stem',
  stems: 'stem',
  oneshot: 'oneshot',
  'one-shot': 'oneshot',
  midi: 'midi',
};

type Rule = [pattern: RegExp, understand: (match: RegExpExecArray) => Omit<Term, 'from' | 'to'> | null];

const isTempo = (bpm: number) => bpm >= 20 && bpm <= 400;
const tempo = (from: number, to: number, words: string) =>
  isTempo(from) && isTempo(to) && from <= to ? { words, meant: { tempoFrom: from, tempoTo: to } } : null;

/** Longer ones first: what one takes, the next do not see. */
const RULES: readonly Rule[] = [
  [
    /^(\d{2,3}(?:[.,]\d+)?)\s*[-–]\s*(\d{2,3}(?:[.,]\d+)?)(?:\s*bpm)?(?=\s|$)/i,
    ([, a, b]) => tempo(number(a), number(b), `tempo ${number(a)} to ${number(b)}`),
  ],
  [
    /^(\d{2,3}(?:[.,]\d+)?)\s*bpm(?=\s|$)/i,
    ([, bpm]) => {
      const { from, to } = aboutAs(bpm);
      return tempo(from, to, `tempo ${number(bpm)}`);
    },
  ],
  [
    /^(\d{1,2})\/(2|4|8|16)(?=\s|$)/,
    ([, beats, unit]) =>
      Number(beats) >= 1 && Number(beats) <= 32
        ? { words: `${beats}/${unit}`, meant: { beatsPerBar: Number(beats), beatUnit: Number(unit) } }
        : null,
  ],
  [
    /^(\d{1,4})\s*bars?(?=\s|$)/i,
    ([, bars]) => ({ words: `${Number(bars)} bars`, meant: { bars: Number(bars) } }),
  ],
  [
    /^([A-G])(?:([#b♯♭])|[\s-]*(sharp|flat))?(?:[\s-]*(major|minor|maj|min)|(m))(?=\s|$)/i,
    ([, letter, sign = '', word = '', name = 'minor']) => {
      const accidental = sign.toLowerCase() || { sharp: '#', flat: 'b' }[word.toLowerCase()] || '';
      const tonic = pitchClassOf(letter.toUpperCase() + accidental);
      if (tonic === null) return null;
      const mode = name.toLowerCase().startsWith('maj') ? 'major' : 'minor';
      const key = ALL_KEYS.find((one) => one.tonic === tonic && one.mode === mode)!;
      return { words: `key ${keyLabel(key)}`, meant: { keyTonic: tonic, keyMode: mode } };
    },
  ],
  [
    /^(major|minor)(?=\s|$)/i,
    ([, word]) => ({
      words: word.toLowerCase(),
      meant: { keyMode: word.toLowerCase() as 'major' | 'minor' },
    }),
  ],
  [
    /^slow(?=\s|$)/i,
    () => ({ words: `slow, up to ${SLOW_UNTIL} BPM`, meant: { tempoFrom: 20, tempoTo: SLOW_UNTIL } }),
  ],
  [
    /^fast(?=\s|$)/i,
    () => ({ words: `fast, from ${FAST_FROM} BPM`, meant: { tempoFrom: FAST_FROM, tempoTo: 400 } }),
  ],
  [
    /^(proved|unproved)(?=\s|$)/i,
    ([, word]) => ({
      words: word.toLowerCase(),
      meant: { proof: word.toLowerCase() as 'proved' | 'unproved' },
    }),
  ],
  [
    /^(full mix|hard swung|[a-z-]+)(?=\s|$)/i,
    ([, word]) => {
      const small = word.toLowerCase();
      const kind = KINDS[small];
      if (kind) return { words: `kind ${small}`, meant: { kind } };
      const facet = FACET_NAMES.find((name) => (FACETS[name] as readonly string[]).includes(small));
      return facet ? { words: `${facet} ${small}`, meant: { tag: `${facet}:${small}` } } : null;
    },
  ],
];

/** A tempo as exactly as it is written: "94" is 93.5 to 94.5, "88.4" is 88.35 to 88.45. */
function aboutAs(text: string): { from: number; to: number } {
  const about = 0.5 * 10 ** -(/[.,](\d+)/.exec(text)?.[1].length ?? 0);
  return { from: number(text) - about, to: number(text) + about };
}

/** The tempo that a number without a unit may be, as exactly as it is written; null for any other word. */
export function tempoAsWritten(word: string): { from: number; to: number } | null {
  return /^\d{2,3}([.,]\d+)?$/.test(word) && isTempo(number(word)) ? aboutAs(word) : null;
}

const number = (text: string) => Number(text.replace(',', '.'));

/**
 * What of a search is a measure: "90-95", "Dm", "3/4", "slow", "4 bars", kinds and tags of the closed lists. Each measure is
 * understood once; what is left are words to be looked for. Quoted words are words.
 */
export function searchTerms(text: string): { terms: Term[]; rest: string } {
  const terms: Term[] = [];
  let rest = '';
  for (let at = 0; at < text.length;) {
    const quoted = /^"([^"]*)"?/.exec(text.slice(at));
    if (quoted) {
      rest += quoted[1];
      at += quoted[0].length;
      continue;
    }
    const isBegin = at === 0 || /\s/.test(text[at - 1]);
    const term = isBegin ? termAt(text, at, terms) : null;
    if (term) {
      terms.push(term);
      at = term.to;
    } else rest += text[at++];
  }
  return { terms, rest: rest.replace(/\s+/g, ' ').trim() };
}

function termAt(text: string, at: number, before: readonly Term[]): Term | null {
  for (const [pattern, understand] of RULES) {
    const match = pattern.exec(text.slice(at));
    const found = match && understand(match);
    if (!found) continue;
    const isSaid = Object.keys(found.meant).some(
      (name) => name !== 'tag' && before.some(({ meant }) => name in meant),
    );
    return isSaid ? null : { ...found, from: at, to: at + match[0].length };
  }
  return null;
}

/** What was typed without the words that were understood as one of these measures (`tempoFrom`, …) or tags (`part:bass`). */
export function withoutTerms(text: string, measures: readonly string[]): string {
  const isOf = ({ meant: { tag, ...meant } }: Term) =>
    measures.some((name) => name in meant) || (tag !== undefined && measures.includes(tag));
  const found = searchTerms(text).terms.find(isOf);
  if (!found) return text;
  // One after the other: of two that mean the same only the first is understood.
  const left = `${text.slice(0, found.from)}${text.slice(found.to)}`.replace(/\s+/g, ' ').trim();
  return withoutTerms(left, measures);
}
