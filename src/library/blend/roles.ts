import type { Blend, BlendOrder } from '@/contract/blend';

/** What is not asked to carry either is heard behind them, dB. */
const BEHIND_DB = -9;

/**
 * The rhythm of one lane and the melody of another, in one order: the melody takes the timing of the rhythm, both are heard in full,
 * all others behind them.
 */
export function rhythmAndMelody(
  { lanes }: Blend,
  rhythm: string,
  melody: string,
): Extract<BlendOrder, { do: 'lanes' }> {
  return {
    do: 'lanes',
    patches: lanes.map(({ laneId, levelDb }) =>
      laneId === rhythm
        ? { laneId, patch: { levelDb: Math.max(0, levelDb), muted: false, solo: false, feel: null } }
        : laneId === melody
          ? {
              laneId,
              patch: {
                levelDb: Math.max(0, levelDb),
                muted: false,
                solo: false,
                feel: { of: rhythm, share: 1 },
              },
            }
          : { laneId, patch: { levelDb: Math.min(BEHIND_DB, levelDb), solo: false } },
    ),
  };
}
