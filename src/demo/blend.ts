/** A lane of the theatre's blend: which sample, and what is set of it by hand. */
interface DemoLane {
  of: string;
  patch: LanePatch;
}

/**
 * The music of the second act: the first lane leads, the others are fitted to it. The soldiers march in D major against its D minor;
 * what mends that stands ready to be redone.
 */
export const DEMO_BLEND: {
  name: string;
  lanes: readonly DemoLane[];
  mended: { of: string; patch: LanePatch; words: string };
} = {
  name: 'Second act, rain',
  lanes: [
    { of: 'Under the Stage.wav', patch: {} },
    { of: 'Three Lanterns.wav', patch: { at: 16, levelDb: -2 } },
    { of: 'Cellar Steps.wav', patch: { levelDb: -3 } },
    { of: 'Tin Soldiers.wav', patch: { semitones: 0, levelDb: -5, pan: 0.3 } },
  ],
  mended: {
    of: 'Tin Soldiers.wav',
    patch: { semitones: null },
    words: 'the soldiers march in F major, and clash less',
  },
};
import type { LanePatch } from '@/contract/blend';
