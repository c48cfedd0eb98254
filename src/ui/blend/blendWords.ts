import { counted, plural } from '@/words/plural';
import type { Score } from '@/library/blend/score';
import type { Blend } from '@/contract/blend';
import { feltBeatsPerBar } from '@/core/rhythm/grid';
import type { LaneFacts, LaneScore } from '@/library/blend/parts';
import { keyLabel, movedKey, type Key } from '@/core/harmony/keyNames';
import { speedText, tempoChangeText } from '@/core/timeStretch/tempoChange';
import { bpmText } from '@/words/figures';
import { semitonesText } from '../target/proposalWords';

/** What a lane is to the others. */
export function roleOf({ lane, bend, fault }: LaneScore, { lead }: Blend): string {
  if (fault) return 'silent';
  if (lane.laneId === lead) return 'lead';
  if (lane.held === 'time') return 'in seconds';
  return bend.level !== null || lane.fit.to === 'bars' ? 'fitted' : 'original';
}

/** "118 → 96 BPM (−18.6 %)", or its own tempo where it stays; null without one. */
export function tempoBecomes(
  { bend }: LaneScore,
  facts: LaneFacts | null,
  tempoBpm: number | null,
): string | null {
  const own = facts?.settled.grid?.tempoBpm ?? null;
  if (own === null || facts?.settled.kind === 'oneshot') return null;
  if (bend.level === null || Math.abs(bend.ratio - 1) < 1e-6 || tempoBpm === null) return bpmText(own);
  return tempoChangeText(own, tempoBpm, bend.level);
}

/** How much faster a fitted lane goes, "−18.6 %"; null where it stays. */
export const tempoPercent = ({ bend }: LaneScore): string | null =>
  Math.abs(bend.ratio - 1) < 0.0005 ? null : speedText(bend.ratio);

/** How much faster a lane without a tempo goes, "−18.6 %"; null where it stays, or its tempo says it. */
export function speedBecomes({ bend }: LaneScore): string | null {
  return bend.level !== null || Math.abs(bend.ratio - 1) < 0.0005 ? null : speedText(bend.ratio);
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
    speedBecomes(score),
    keyBecomes(score, facts) ?? 'no key',
    bend.cents !== 0 && `${semitonesText(bend.cents)} cents`,
    every !== null && `repeats after ${beatsText(every)}`,
    `strain ${bend.strain.toFixed(2)}, ${bend.word}`,
    ...remarks,
  ];
  return words.filter(Boolean).join('; ');
}

const beatsText = (beats: number) => `${Math.round(beats * 100) / 100} ${plural(beats, 'beat')}`;

/** What another tempo moves: lanes held in bars follow it, those held in time stand at other bars. */
export function movesWords({ grid, lanes }: Score, bpm: number): string {
  const size = feltBeatsPerBar(grid.meter);
  const follow = lanes.filter(({ lane, fault }) => lane.held === 'bars' && !fault).length;
  const stay = lanes
    .filter(({ lane }) => lane.held === 'time')
    .map(({ lane }) => {
      const barAt = (tempoBpm: number) => (1 + (lane.atSeconds * tempoBpm) / 60 / size).toFixed(1);
      return `“${lane.name}” keeps its time and moves from bar ${barAt(grid.tempoBpm)} to ${barAt(bpm)}`;
    });
  const all = `${counted(follow, 'lane follows', 'lanes follow')} the bars: ${tempoChangeText(grid.tempoBpm, bpm)}`;
  return [all, ...stay].join('; ');
}
