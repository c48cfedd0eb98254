/** What the theatre sends to a stage that plays its second act: which samples, in which order, and how they are written. */
export const DEMO_PACK: { name: string; of: readonly string[]; set: PackPatch } = {
  name: 'Second act, to travel',
  of: [
    'Under the Stage.wav',
    'Three Lanterns.wav',
    'Cellar Steps.wav',
    'Tin Soldiers.wav',
    'Lame Horse.wav',
    'Rope Creak.wav',
    'Moth chorus 100 Am.wav',
  ],
  set: {
    about: 'What the second act is made of, for the stage that has us in March.',
    licence: 'for performances of this play',
    template: '{number} {name}[ {bpm} bpm][ {key}]',
    folders: 'kind',
    atTarget: {
      ...{ tempoBpm: 96, key: { tonic: 2, mode: 'minor' }, isTape: false },
      ...{ format: 'flac 24', sampleRate: null, midiAs: 'notes' },
    },
    clicks: true,
    tempoMaps: true,
  },
};
import type { PackPatch } from '@/contract/pack';
