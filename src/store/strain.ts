import { LEVEL_COST, LEVELS, UNPITCHED_PARTS } from '@/core/fit/proposal';
import { LONGER, RATIO_OF_ONE, SEMITONES_OF_ONE } from '@/core/fit/strain';
import { ALL_KEYS } from '@/core/harmony/keyNames';
import type { ShelfQuery } from '@/core/library/shelfQuery';
import { FACET_BITS } from '@/core/tags/facetBits';

/** Bits of the tags whose samples are never shifted. */
const UNPITCHED = UNPITCHED_PARTS.reduce(
  (bits, part) => bits | (1n << BigInt(FACET_BITS.indexOf(`part:${part}`))),
  0n,
);

/** Felt beats of what goes round, for ways that want whole ones. */
const BEATS = `s.bars * case when s.beat_unit >= 8 and s.beats_per_bar % 3 = 0 and s.beats_per_bar > 3
                              then s.beats_per_bar / 3 else s.beats_per_bar end`;

/**
 * Strain of each row \`s\` of \`settled\` at a target, as \`core/fit\` says it but for cents of tuning: an expression, and what it
 * reads beside \`s\`. The target's figures are numbers that were checked.
 */
export function strainOfRows({ targetTempo, targetKey, targetTape }: ShelfQuery): {
  tables: string;
  strain: string;
} {
  const tables: string[] = [];
  let time = '0';
  let key = '0';
  if (targetTempo !== null) {
    const bend = (level: number) => {
      const x = `(x + ${Math.log(level)})`;
      return `case when abs(${x}) > ${Math.log(4)} then null else greatest(${x} * ${LONGER}, -${x}) end / ${Math.log(RATIO_OF_ONE)}`;
    };
    const isAllowed = (level: number) =>
      Number.isInteger(2 * level) && level !== 1.5
        ? 'true'
        : `s.kind = 'loop' and (${BEATS}) % ${level === 1.5 ? 2 : 3} = 0`;
    tables.push(
      `cross join lateral (select ln(s.tempo_bpm / ${targetTempo}) as x offset 0) tempo`,
      `cross join lateral (select ${LEVELS.map((level, i) => `case when ${isAllowed(level)} then ${bend(level)} end as b${i}`).join(', ')} offset 0) bends`,
    );
    const costs = LEVELS.map((level, i) => `b${i} + ${LEVEL_COST[level]}`);
    tables.push(`cross join lateral (select least(${costs.join(', ')}) as cost offset 0) best`);
    const chosen = LEVELS.map((_, i) => `when cost = ${costs[i]} then b${i}`).join(' ');
    time = `case when s.kind is distinct from 'oneshot' and s.tempo_bpm is not null then coalesce(case ${chosen} end, 0) else 0 end`;
  }
  if (targetKey !== null && !(targetTape && targetTempo !== null)) {
    const isMinor = targetKey >= 12;
    const tonic = targetKey % 12;
    // Where the modes differ it gets the same notes.
    const relative = (tonic + (isMinor ? 3 : 9)) % 12;
    const apart = `((case when s.kind = 'oneshot' or (s.key_number >= 12) = ${isMinor} then ${tonic} else ${relative} end) - s.key_number % 12 + 12) % 12`;
    key = `case when s.key_number is null or s.facets & ${UNPITCHED} <> 0 then 0
                 when ${apart} <= 6 then ${apart} else ${apart} - 12 end`;
  }
  const strain = targetTape
    ? targetTempo !== null
      ? `(${time}) / 2`
      : `greatest(${key}, (${key}) * -${LONGER}) / 12 * ${Math.LN2 / Math.log(RATIO_OF_ONE)} / 2`
    : `sqrt((${time}) ^ 2 + ((${key}) / ${SEMITONES_OF_ONE}.0) ^ 2)`;
  return { tables: tables.join(' '), strain };
}

/** Conditions that every row of a strain up to `most` meets, found by the indexes; some that are strained more meet them too. */
export function nearTarget({ targetTempo, targetKey, targetTape }: ShelfQuery, most: number): string[] {
  const near: string[] = [];
  const factor = RATIO_OF_ONE ** (targetTape ? 2 * most : most);
  if (targetTempo !== null) {
    const windows = LEVELS.map((level) => {
      const middle = targetTempo / level;
      return `s.tempo_bpm between ${middle / factor - 1e-6} and ${middle * factor + 1e-6}`;
    });
    near.push(`(s.tempo_bpm is null or s.kind = 'oneshot' or ${windows.join(' or ')})`);
  }
  const reach = Math.floor(targetTape ? 12 * Math.log2(factor) : SEMITONES_OF_ONE * most);
  if (targetKey !== null && !(targetTape && targetTempo !== null) && reach < 6) {
    const isNear = (number: number) => {
      const isSame = number >= 12 === targetKey >= 12;
      const wanted = isSame ? targetKey : targetKey + (targetKey >= 12 ? 3 : 9);
      const apart = (((wanted - number) % 12) + 12) % 12;
      return Math.min(apart, 12 - apart) <= reach;
    };
    const keys = ALL_KEYS.map((_, number) => number).filter(isNear);
    near.push(
      `(s.key_number is null or s.facets & ${UNPITCHED} <> 0 or s.kind = 'oneshot' or s.key_number in (${keys.join(', ')}))`,
    );
  }
  return near;
}
