'use client';
import { BLENDS } from '../api/blends';
import { bpmText } from '../pieces/figures';
import { SteppedList } from '../stepped/SteppedList';

/** All blends, those changed last first. */
export function BlendList() {
  return (
    <SteppedList
      calls={BLENDS}
      title="Blends"
      about="Several samples heard together on one ruler of bars: do they belong together, how far are they bent, and what comes out?"
      none="There is no blend yet. Make one, and put saved samples in."
      rowOf={({ blendId, lanes, tempoBpm, ...row }) => ({
        ...row,
        id: blendId,
        holds: lanes.length === 0 ? 'empty' : lanes.join(', '),
        figure: tempoBpm === null ? '' : `${bpmText(tempoBpm)} BPM`,
      })}
    />
  );
}
