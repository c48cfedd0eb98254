import type { ReactNode } from 'react';
import { GLOSSARY, type GlossaryTerm } from '@/words/glossary';

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

const PICTURES: Partial<Record<GlossaryTerm, ReactNode>> = {
  'the one': (
    <Small>
      <path d="M0 34H72" stroke={RULE} />
      <path d="M20 8V40" stroke={ONE} strokeWidth="2.5" />
      <path d="M12 26V34M36 20V34M52 24V34" stroke={INK} strokeWidth="2" />
    </Small>
  ),
  fold: <Small>{columns(0)}</Small>,
  lean: <Small>{columns(1.6)}</Small>,
  seam: (
    <Small>
      <path d="M0 22q9-18 18 0t18 0" stroke={INK} strokeWidth="1.5" />
      <path d="M36 22q9-18 18 0t18 0" stroke={INK} strokeWidth="1.5" />
      <path d="M36 2V42" stroke={ONE} strokeDasharray="3 2" />
    </Small>
  ),
  strays: (
    <Small>
      <path d="M36 2V42" stroke={RULE} />
      {rows.map((y) => (
        <circle key={y} cx={y === 22 ? 56 : 36 + (y % 3)} cy={y} r="2.4" fill={y === 22 ? ONE : INK} />
      ))}
    </Small>
  ),
  status: (
    <Small>
      <path d="M8 30H64" stroke={RULE} />
      {[8, 27, 46, 64].map((x, i) => (
        <circle key={x} cx={x} cy="30" r="4" fill={i < 3 ? INK : 'var(--paper)'} stroke={INK} />
      ))}
    </Small>
  ),
  uncertain: (
    <Small>
      <path d="M22 10L34 32H10Z" stroke="var(--look)" strokeWidth="2" />
      <path d="M22 18V25M22 28V29" stroke="var(--look)" strokeWidth="2" />
      <path d="M46 14h16M46 22h16M46 30h16" stroke={INK} strokeWidth="1.5" />
    </Small>
  ),
  proof: (
    <Small>
      <path d="M6 34H66" stroke={RULE} />
      <path d="M12 34V18M36 34V18M60 34V18" stroke={INK} strokeWidth="2" />
      <path d="M9 10l3 3 5-6M33 10l3 3 5-6M57 10l3 3 5-6" stroke="var(--good)" strokeWidth="1.8" />
    </Small>
  ),
  'library default': (
    <Small>
      <path d="M8 22H64" stroke={RULE} strokeWidth="2" />
      <path d="M22 22H48" stroke={INK} strokeWidth="4" />
      <path d="M22 14V30M48 14V30" stroke={INK} strokeWidth="2" />
    </Small>
  ),
  target: (
    <Small>
      <path d="M8 14H40M8 30H62" stroke={INK} strokeWidth="2" />
      <path d="M40 18L62 26" stroke={ONE} strokeDasharray="2 2" />
      <path d="M8 10V18M40 10V18M8 26V34M62 26V34" stroke={INK} strokeWidth="2" />
    </Small>
  ),
  recipe: (
    <Small>
      <path d="M8 14H64" stroke={INK} strokeWidth="3" />
      <path d="M24 14V32H48V14" stroke={ONE} strokeDasharray="2 2" />
      <path d="M24 34H48" stroke={INK} strokeWidth="3" />
    </Small>
  ),
  lead: (
    <Small>
      <path d="M8 2V42" stroke={ONE} />
      <path d="M24 2V42M40 2V42M56 2V42" stroke={RULE} strokeDasharray="1 2" />
      <path d="M8 6v10M24 6v10M40 6v10M56 6v10" stroke={INK} strokeWidth="2" />
      <path d="M8 26v10M24 26v10M40 26v10M56 26v10" stroke="var(--pen-2)" strokeWidth="2" />
    </Small>
  ),
  'position in bars': (
    <Small>
      <path d="M8 2V42M34 2V42M60 2V42" stroke={RULE} strokeDasharray="1 2" />
      <path d="M8 14H34" stroke={INK} strokeWidth="5" />
      <path d="M16 32H50" stroke="var(--pen-4)" strokeWidth="5" />
    </Small>
  ),
  flam: (
    <Small>
      <path d="M24 2V42M48 2V42" stroke={RULE} strokeDasharray="1 2" />
      <path d="M24 10v10M48 10v10" stroke={INK} strokeWidth="2" />
      <path d="M30 14v10M54 14v10" stroke="var(--pen-2)" strokeWidth="2" />
      <path d="M23 32H31M47 32H55" stroke={ONE} strokeWidth="2" />
    </Small>
  ),
  clash: (
    <Small>
      <path d="M8 20V40M20 28V40M32 34V40M56 24V40" stroke={INK} strokeWidth="6" />
      <path d="M44 22V40" stroke="var(--pen-2)" strokeWidth="6" />
      <path d="M26 6H50V42H26Z" stroke={ONE} />
    </Small>
  ),
};

/** Grento's own words, each with what it means; some with a small picture. */
export function Glossary() {
  return (
    <dl className="grid grid-cols-2 gap-x-8 gap-y-3">
      {Object.entries(GLOSSARY).map(([term, means]) => (
        <div key={term} className="flex gap-3">
          {PICTURES[term as GlossaryTerm] ?? <span className="w-[72px] shrink-0" />}
          <div>
            <dt className="font-semibold">{term}</dt>
            <dd className="text-small text-ink-soft">{means}</dd>
          </div>
        </div>
      ))}
    </dl>
  );
}
