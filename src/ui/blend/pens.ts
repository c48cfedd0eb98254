import type { Blend, Lane } from '@/contract/blend';

/** As many pens as lanes. */
const PENS = 12;

/** A lane's number in its name, which says its pen: lanes that change places keep theirs. */
export const penOf = ({ laneId }: Pick<Lane, 'laneId'>): number =>
  (Number(/^\d+/.exec(laneId)?.[0] ?? 1) - 1) % PENS;

/** The same for what is written in it. */
export const penStyle = (lane: Pick<Lane, 'laneId'>) => ({ color: `var(--pen-${penOf(lane) + 1})` });

function freePen({ lanes }: Blend): number {
  const used = new Set(lanes.map(penOf));
  return (Array.from({ length: PENS }, (_, i) => i).find((i) => !used.has(i)) ?? 0) + 1;
}

/** A name for the next lane, with the first pen that is free; no two tabs find the same one. */
export const nextLaneId = (blend: Blend): string =>
  `${freePen(blend)}-${Math.random().toString(36).slice(2, 8)}`;

/** The lane of what is only tried. */
export const triedLaneId = (blend: Blend): string => `${freePen(blend)}-tried`;
