import { tempoAsWritten } from '@/library/search/searchTerms';
import { database } from './database';

/** A word that is looked for: a `like` pattern for the search text, which has a space before each word; or a tempo, BPM. */
interface AskedWord {
  pattern: string;
  tempo: { from: number; to: number } | null;
}

/** What was typed into a search field, as it is looked for. */
export interface Understood {
  /** All of them must match. */
  words: AskedWord[];
  /** Words that stand nowhere, with those that were taken instead. */
  insteadOf: { typed: string; found: string }[];
}

/** How alike a word of the library must be to what was typed (share of their letters in threes). */
const ALIKE = 0.35;

/**
 * Words of a search: one of three letters and more is found anywhere within a word, a shorter one at the beginning of
 * one. A word that stands nowhere in the library is taken for the one that is most like it.
 */
export async function understood(text: string): Promise<Understood> {
  const words = [...new Set(text.toLowerCase().split(/\s+/).filter(Boolean))].slice(0, 12);
  if (words.length === 0) return { words: [], insteadOf: [] };
  const insteadOf: Understood['insteadOf'] = [];
  // Only whole words of letters can be mistyped for one that is known.
  const asked = words.filter((word) => /^[\p{L}]{4,}$/u.test(word));
  if (asked.length) {
    const { rows } = await database().query(
      `select t.typed, (select w.word from words w where w.word % t.typed and similarity(w.word, t.typed) >= $2
                         order by similarity(w.word, t.typed) desc, w.word limit 1) as found
         from unnest($1::text[]) t (typed)
        where not exists (select from words w where w.word like '%' || t.typed || '%')`,
      [asked, ALIKE],
    );
    insteadOf.push(...rows.filter(({ found }) => found !== null));
  }
  const wanted = words.map((word) => ({
    pattern: patternOf(insteadOf.find(({ typed }) => typed === word)?.found ?? word),
    tempo: tempoAsWritten(word),
  }));
  return { words: wanted, insteadOf };
}

/** The condition that a word stands for, of the row `s`; `bind` gives a value its place. */
export function conditionOf({ pattern, tempo }: AskedWord, bind: (value: unknown) => string): string {
  const isThere = `s.search_text like ${bind(pattern)}`;
  return tempo ? `(${isThere} or s.tempo_bpm between ${bind(tempo.from)} and ${bind(tempo.to)})` : isThere;
}

function patternOf(word: string): string {
  const plain = word.replace(/[\\%_]/g, (c) => `\\${c}`);
  return word.length < 3 ? `% ${plain}%` : `%${plain}%`;
}
