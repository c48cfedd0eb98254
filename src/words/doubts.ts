import { counted } from './plural';
import { keyLabel } from '@/core/harmony/keyNames';
import type { Doubt, NeedSort, Reason, Witness } from '@/contract/doubt';
import { tempoRelation } from '@/core/readings/tempoRelation';

const WITNESS: Record<Witness, string> = {
  'file name': 'file name',
  'embedded tag': 'tag',
  'stem set': 'stem set',
};
const number = (bpm: number) => String(Math.round(bpm * 100) / 100);
const percent = (share: number) => `${Math.round(100 * share)} %`;
const MADE: Record<Extract<Reason, { code: 'not as planned' }>['in'], string> = {
  length: 'the length',
  tempo: 'the tempo',
  key: 'the key',
  tuning: 'the tuning',
  hits: 'the hits',
};

/** A doubt, or what is to be done, as a short statement. */
export function doubtWords(doubt: Reason | Doubt): string {
  switch (doubt.code) {
    case 'tempo disagrees': {
      const { ratio, words } = tempoRelation(doubt.saysBpm, doubt.bpm);
      const guess = ratio ? `: ${words}?` : '';
      return `${WITNESS[doubt.by]} says ${number(doubt.saysBpm)} BPM, measured ${number(doubt.bpm)}${guess}`;
    }
    case 'key disagrees':
      return `${WITNESS[doubt.by]} says ${keyLabel(doubt.says)}, measured ${keyLabel(doubt.key)}`;
    case 'one disagrees': {
      const { apartMs } = doubt;
      return `stem set says the one is ${Math.round(Math.abs(apartMs))} ms ${apartMs < 0 ? 'earlier' : 'later'}`;
    }
    case 'tempo uncertain':
      return `tempo uncertain: ${number(doubt.bpm)}${doubt.otherBpm === null ? '' : ` or ${number(doubt.otherBpm)}`}`;
    case 'no tempo':
      return 'no tempo found';
    case 'one uncertain':
      return `the one uncertain: confidence ${percent(doubt.sureness)}`;
    case 'meter uncertain':
      return `time signature uncertain: ${doubt.meter.beatsPerBar}/${doubt.meter.beatUnit}, confidence ${percent(doubt.sureness)}`;
    case 'bars uncertain':
      return `bars uncertain: ${doubt.bars}, confidence ${percent(doubt.sureness)}`;
    case 'key uncertain':
      return `key uncertain: ${keyLabel(doubt.key)}${doubt.other ? ` or ${keyLabel(doubt.other)}` : ''}`;
    case 'kind uncertain':
      return doubt.kind === 'oneshot'
        ? 'kind uncertain: one-shot or loop'
        : `kind uncertain: ${doubt.kind} or one-shot`;
    case 'nothing to measure':
      return NOTHING[doubt.what];
    case 'grid leans':
      return `grid does not match the audio: hits ${doubt.isLate ? 'fall behind' : 'run ahead of'} the click, 20 ms after ${counted(doubt.barsUntil20Ms, 'bar')}`;
    case 'tempo moves':
      return `the tempo changes: hits vary by ${doubt.wanderMs.toFixed(0)} ms around one tempo`;
    case 'grid is beside':
      return `grid does not match the audio: hits are ${Math.abs(doubt.medianMs).toFixed(0)} ms ${doubt.medianMs > 0 ? 'late' : 'early'} everywhere`;
    case 'newer tempo': {
      const { saysBpm, bpm, sureness } = doubt;
      const guess = bpm === null ? null : tempoRelation(saysBpm, bpm);
      const instead = bpm === null ? '' : ` for ${number(bpm)}${guess?.ratio ? `, ${guess.words}` : ''}`;
      return `newer measurement: ${number(saysBpm)} BPM${instead} (${percent(sureness)})`;
    }
    case 'newer meter':
      return `newer measurement: ${doubt.says.beatsPerBar}/${doubt.says.beatUnit} (${percent(doubt.sureness)})`;
    case 'newer one':
      return `newer measurement: the one ${Math.round(Math.abs(doubt.apartMs))} ms ${doubt.apartMs < 0 ? 'earlier' : 'later'} (${percent(doubt.sureness)})`;
    case 'newer key': {
      const says = doubt.says ? keyLabel(doubt.says) : 'no key';
      return `newer measurement: ${says} for ${doubt.key ? keyLabel(doubt.key) : 'no key'} (${percent(doubt.sureness)})`;
    }
    case 'drifts':
      return 'tempo drifts';
    case 'not trimmed':
      return 'not trimmed to bars';
    case 'may be a stem':
      return `may be a stem of “${doubt.set}”, not joined yet`;
    case 'damaged':
      return 'decoded with warnings';
    case 'not as planned':
      return `render differs from plan: ${MADE[doubt.in]} differs`;
    case 'alike': {
      const { relation, name, others } = doubt;
      const more = others === 0 ? '' : ` and ${counted(others, 'other')}`;
      return `${relation} as “${name}”${more}`;
    }
  }
}

const NOTHING = {
  speech: 'speech: tempo and key may be meaningless',
  silence: 'only silence',
  noise: 'continuous noise without hits or pitch',
} as const;

export const allDoubtWords = (doubts: readonly Doubt[]): string[] => doubts.map(doubtWords);

const SORT_WORDS: Partial<Record<NeedSort, string>> = {
  'tempo in doubt': 'tempo',
  'key in doubt': 'key',
  'the one in doubt': 'the one',
  'kind in doubt': 'kind',
  'meter in doubt': 'time signature',
  'bars in doubt': 'bars',
  'does not fit': 'grid does not match',
  alike: 'duplicates',
  'measured anew': 'measured differently',
  'to join': 'stems to join',
};

/** What a sort of doubts is called where they are filtered, behind “uncertain” or “to do”. */
export const sortWords = (sort: NeedSort): string => SORT_WORDS[sort] ?? sort;
