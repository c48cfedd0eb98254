import type { Score } from '@/library/blend/score';
import type { Blend } from '@/contract/blend';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import type { LaneFacts, LaneScore } from '@/library/blend/parts';
import { keyLabel, movedKey, type Key } from '@/core/harmony/keyNames';
import { bpmText } from '../pieces/figures';
import { semitonesText } from '../target/proposalWords';

/** What a lane is to the others. */
export function roleOf({ lane, bend, fault }: LaneScore, { lead }: Blend): string {
  if (fault) return 'silent';
  if (lane.laneId === lead) return 'leads';
  if (lane.held === 'time') return 'held in time';
  return bend.level !== null || lane.fit.to === 'bars' ? 'fitted' : 'as recorded';
}

/** "118 → 96", or its own tempo where it stays; null without one. */
export function tempoBecomes(
  { bend }: LaneScore,
  facts: LaneFacts | null,
  tempoBpm: number | null,
): string | null {
  const own = facts?.settled.grid?.tempoBpm ?? null;
  if (own === null || facts?.settled.kind === 'oneshot') return null;
  if (bend.level === null || Math.abs(bend.ratio - 1) < 1e-6) return bpmText(own);
  return `${bpmText(own)} → ${tempoBpm === null ? '' : bpmText(tempoBpm)}`;
}

/** "× 1.229 longer" */
export function lengthBecomes(ratio: number): string | null {
  if (Math.abs(ratio - 1) < 0.0005) return null;
  return ratio > 1 ? `× ${ratio.toFixed(3)} longer` : `× ${(1 / ratio).toFixed(3)} shorter`;
}

/** "B minor → D minor +3"; null without a key. */
export function keyBecomes({ bend }: LaneScore, facts: LaneFacts | null): string | null {
  const key = facts?.fittable.key;
  if (!key || facts.fittable.isUnpitched) return null;
  const isRoot = facts.settled.kind === 'oneshot';
  const said = (one: Key) => (isRoot ? keyLabel(one).split(' ')[0] : keyLabel(one));
  const by = Math.round(bend.semitones * 100) / 100;
  if (Math.abs(by) < 0.005) return said(key);
  return `${said(key)} → ${said(movedKey(key, by))} ${semitonesText(by)}`;
}

/** What becomes of a lane, as one sentence: tempo, key, bars, strain. */
export function laneSentence(score: LaneScore, facts: LaneFacts | null, { tempoBpm }: Blend): string {
  if (score.fault) return score.fault;
  const { bend, every, remarks } = score;
  const words = [
    tempoBecomes(score, facts, tempoBpm) ?? 'no tempo',
    lengthBecomes(bend.ratio),
    keyBecomes(score, facts) ?? 'no key',
    bend.cents !== 0 && `${semitonesText(bend.cents)} cents`,
    every !== null && `again after ${beatsText(every)}`,
    `strain ${bend.strain.toFixed(2)}, ${bend.word}`,
    ...remarks,
  ];
  return words.filter(Boolean).join('; ');
}

const beatsText = (beats: number) => `${Math.round(beats * 100) / 100} ${beats === 1 ? 'beat' : 'beats'}`;

/** What another tempo moves: lanes held in bars follow it, those held in time stand at other bars. */
export function movesWords({ grid, lanes }: Score, bpm: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const follow = lanes.filter(({ lane, fault }) => lane.held === 'bars' && !fault).length;
  const stay = lanes
    .filter(({ lane }) => lane.held === 'time')
    .map(({ lane }) => {
      const barAt = (tempoBpm: number) => (1 + (lane.atSeconds * tempoBpm) / 60 / size).toFixed(1);
      return `“${lane.name}” keeps its seconds and goes from bar ${barAt(grid.tempoBpm)} to ${barAt(bpm)}`;
    });
  const all = `${follow} ${follow === 1 ? 'lane follows' : 'lanes follow'} the bars, × ${(grid.tempoBpm / bpm).toFixed(3)} as long`;
  return [all, ...stay].join('; ');
}
