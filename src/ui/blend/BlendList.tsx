'use client';
import { BLENDS } from '../api/blends';
import { bpmText } from '@/words/figures';
import { DocumentList } from '../documents/DocumentList';

/** All blends, those changed last first. */
export function BlendList() {
  return (
    <DocumentList
      calls={BLENDS}
      title="Blends"
      about="Several samples played together at one tempo and key: hear whether they fit, how far each one is stretched, and export the result."
      none="No blends yet. Create one and add saved samples."
      rowOf={({ blendId, lanes, tempoBpm, ...row }) => ({
        ...row,
        id: blendId,
        holds: lanes.length === 0 ? 'empty' : lanes.join(', '),
        figure: tempoBpm === null ? '' : `${bpmText(tempoBpm)} BPM`,
      })}
    />
  );
}
