import type { ReactNode } from 'react';

/** A picture of a word: 72 by 44, rules, ink and the one in the colours of the paper. */
function Small({ children }: { children: ReactNode }) {
  return (
    <svg
      viewBox="0 0 72 44"
      width="72"
      height="44"
      className="shrink-0 border border-rule bg-paper"
      fill="none"
      aria-hidden
    >
      {children}
    </svg>
  );
}

const INK = 'var(--ink)';
const ONE = 'var(--one)';
const RULE = 'var(--rule-strong)';
const rows = [6, 14, 22, 30, 38];

/** Ticks of four rows, each row moved by `lean` to the right of the one above it. */
const columns = (lean: number, from = 8) => (
  <>
    <path d="M8 2V42" stroke={ONE} />
    <path d="M24 2V42M40 2V42M56 2V42" stroke={RULE} strokeDasharray="1 2" />
    {rows.map((y, row) => (
      <path
        key={y}
        d={[0, 16, 32, 48].map((x) => `M${from + x + row * lean} ${y - 3}v6`).join('')}
        stroke={INK}
        strokeWidth="2"
      />
    ))}
  </>
);

const WORDS: { word: string; means: string; picture: ReactNode }[] = [
  {
    word: 'the one',
    means: 'The first downbeat: beat 1 of bar 1. What is before it is pickup.',
    picture: (
      <Small>
        <path d="M0 34H72" stroke={RULE} />
        <path d="M20 8V40" stroke={ONE} strokeWidth="2.5" />
        <path d="M12 26V34M36 20V34M52 24V34" stroke={INK} strokeWidth="2" />
      </Small>
    ),
  },
  {
    word: 'fold',
    means:
      'The recording laid bar under bar, the one at the left. Straight columns on the rules: the grid fits.',
    picture: <Small>{columns(0)}</Small>,
  },
  {
    word: 'lean',
    means: 'Columns that slant: the tempo is a little wrong. The further down, the further off.',
    picture: <Small>{columns(1.6)}</Small>,
  },
  {
    word: 'upright',
    means: 'Set upright (U), tempo and the one are those of the hits’ own columns.',
    picture: (
      <Small>
        {columns(0)}
        <path d="M62 34c6-8 6-16 0-22m0 0l-3 4m3-4l4 3" stroke={ONE} strokeWidth="1.5" />
      </Small>
    ),
  },
  {
    word: 'seam',
    means: 'Where a loop’s end meets its beginning. It should go on as if nothing were there.',
    picture: (
      <Small>
        <path d="M0 22q9-18 18 0t18 0" stroke={INK} strokeWidth="1.5" />
        <path d="M36 22q9-18 18 0t18 0" stroke={INK} strokeWidth="1.5" />
        <path d="M36 2V42" stroke={ONE} strokeDasharray="3 2" />
      </Small>
    ),
  },
  {
    word: 'strays',
    means: 'Single hits that stand beside the line of all others.',
    picture: (
      <Small>
        <path d="M36 2V42" stroke={RULE} />
        {rows.map((y) => (
          <circle key={y} cx={y === 22 ? 56 : 36 + (y % 3)} cy={y} r="2.4" fill={y === 22 ? ONE : INK} />
        ))}
      </Small>
    ),
  },
  {
    word: 'standing',
    means: 'How far a sample has come: arrived, measured, proved, saved.',
    picture: (
      <Small>
        <path d="M8 30H64" stroke={RULE} />
        {[8, 27, 46, 64].map((x, i) => (
          <circle key={x} cx={x} cy="30" r="4" fill={i < 3 ? INK : 'var(--paper)'} stroke={INK} />
        ))}
      </Small>
    ),
  },
  {
    word: 'uncertain, to do',
    means: 'Uncertain: a value may be wrong. To do: something useful waits, and nothing is wrong.',
    picture: (
      <Small>
        <path d="M22 10L34 32H10Z" stroke="var(--look)" strokeWidth="2" />
        <path d="M22 18V25M22 28V29" stroke="var(--look)" strokeWidth="2" />
        <path d="M46 14h16M46 22h16M46 30h16" stroke={INK} strokeWidth="1.5" />
      </Small>
    ),
  },
  {
    word: 'proof',
    means: 'The recorded check against the click: which places were heard, with what figures, by whom.',
    picture: (
      <Small>
        <path d="M6 34H66" stroke={RULE} />
        <path d="M12 34V18M36 34V18M60 34V18" stroke={INK} strokeWidth="2" />
        <path d="M9 10l3 3 5-6M33 10l3 3 5-6M57 10l3 3 5-6" stroke="var(--good)" strokeWidth="1.8" />
      </Small>
    ),
  },
  {
    word: 'custom',
    means: 'A setting of the whole library, such as the range in which tempi of new samples are looked for.',
    picture: (
      <Small>
        <path d="M8 22H64" stroke={RULE} strokeWidth="2" />
        <path d="M22 22H48" stroke={INK} strokeWidth="4" />
        <path d="M22 14V30M48 14V30" stroke={INK} strokeWidth="2" />
      </Small>
    ),
  },
  {
    word: 'target, strain',
    means: 'A tempo and key that everything is played at, and how far that bends a sample.',
    picture: (
      <Small>
        <path d="M8 14H40M8 30H62" stroke={INK} strokeWidth="2" />
        <path d="M40 18L62 26" stroke={ONE} strokeDasharray="2 2" />
        <path d="M8 10V18M40 10V18M8 26V34M62 26V34" stroke={INK} strokeWidth="2" />
      </Small>
    ),
  },
  {
    word: 'derived, recipe',
    means: 'A sample made from another, and the exact steps by which it was made. The parent stays as it is.',
    picture: (
      <Small>
        <path d="M8 14H64" stroke={INK} strokeWidth="3" />
        <path d="M24 14V32H48V14" stroke={ONE} strokeDasharray="2 2" />
        <path d="M24 34H48" stroke={INK} strokeWidth="3" />
      </Small>
    ),
  },
  {
    word: 'leads, fitted',
    means: 'In a Blend: one gives tempo and key, the others are bent to it; each says how far.',
    picture: (
      <Small>
        <path d="M8 2V42" stroke={ONE} />
        <path d="M24 2V42M40 2V42M56 2V42" stroke={RULE} strokeDasharray="1 2" />
        <path d="M8 6v10M24 6v10M40 6v10M56 6v10" stroke={INK} strokeWidth="2" />
        <path d="M8 26v10M24 26v10M40 26v10M56 26v10" stroke="var(--pen-2)" strokeWidth="2" />
      </Small>
    ),
  },
  {
    word: 'held in bars, in time',
    means: 'Whether a lane of a Blend follows the bars when the tempo changes, or keeps its seconds.',
    picture: (
      <Small>
        <path d="M8 2V42M34 2V42M60 2V42" stroke={RULE} strokeDasharray="1 2" />
        <path d="M8 14H34" stroke={INK} strokeWidth="5" />
        <path d="M16 32H50" stroke="var(--pen-4)" strokeWidth="5" />
      </Small>
    ),
  },
  {
    word: 'flam',
    means: 'Hits of two lanes that are meant as one and heard as two: 8 to 60 ms apart.',
    picture: (
      <Small>
        <path d="M24 2V42M48 2V42" stroke={RULE} strokeDasharray="1 2" />
        <path d="M24 10v10M48 10v10" stroke={INK} strokeWidth="2" />
        <path d="M30 14v10M54 14v10" stroke="var(--pen-2)" strokeWidth="2" />
        <path d="M23 32H31M47 32H55" stroke={ONE} strokeWidth="2" />
      </Small>
    ),
  },
  {
    word: 'clash',
    means: 'Notes of two lanes that stand a semitone apart while both are heard.',
    picture: (
      <Small>
        <path d="M8 20V40M20 28V40M32 34V40M56 24V40" stroke={INK} strokeWidth="6" />
        <path d="M44 22V40" stroke="var(--pen-2)" strokeWidth="6" />
        <path d="M26 6H50V42H26Z" stroke={ONE} />
      </Small>
    ),
  },
];

/** Grento's own words, each with what it means and a small picture. */
export function Words() {
  return (
    <dl className="grid grid-cols-2 gap-x-8 gap-y-3">
      {WORDS.map(({ word, means, picture }) => (
        <div key={word} className="flex gap-3">
          {picture}
          <div>
            <dt className="font-semibold">{word}</dt>
            <dd className="text-small text-ink-soft">{means}</dd>
          </div>
        </div>
      ))}
    </dl>
  );
}
