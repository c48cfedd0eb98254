import { movesOf, type Move } from '@/library/blend/harmony';
import type { Scored } from './useScore';

/** So many of the ranked transpositions are offered, and tried with a key. */
const OFFERED = 4;

/** The transpositions of the lane selected, best first, with the present one. */
export function movesOfLane(scored: Scored, laneId: string | null): { now: number; moves: Move[] } | null {
  const index = scored.judged.lanes.findIndex(({ lane }) => lane.laneId === laneId);
  if (index < 0) return null;
  const { bend, lane } = scored.judged.lanes[index];
  const mine = scored.harmony[index];
  const others = scored.harmony.filter((_, i) => i !== index);
  if (mine.isSilent || lane.isTape || others.every(({ isSilent }) => isSilent)) return null;
  const now = Math.round(bend.semitones);
  return { now, moves: movesOf(mine, others, now, bend.ratio) };
}

/**
 * The transposition that is tried next: the best, and walking on from what was tried last, then round again.
 * `tried` is what was tried last, null where nothing was; where the lane was moved otherwise since, it begins with the best again.
 */
export function nextMove(moves: readonly Move[], now: number, tried: number | null): Move | null {
  const best = moves.slice(0, OFFERED);
  const at = now === tried ? best.findIndex(({ semitones }) => semitones === now) + 1 : 0;
  const from = [...best.slice(at), ...best.slice(0, at)];
  return from.find(({ semitones }) => semitones !== now) ?? null;
}

/** The best ones, and behind them the present one where it is none of them. */
export function shownMoves({ now, moves }: { now: number; moves: Move[] }): Move[] {
  const best = moves.slice(0, OFFERED);
  const present = moves.find(({ semitones }) => semitones === now);
  return present && !best.includes(present) ? [...best, present] : best;
}
