import type { Proposal } from '@/core/fit/proposal';

/** "× 1.043", to three places, of the tempo. */
export const timesText = (ratio: number): string => `× ${(1 / ratio).toFixed(3)}`;

/** "+3", "−9", with a true minus sign; a fraction to two places. */
export function semitonesText(semitones: number): string {
  const size = Math.abs(semitones);
  const text = Number.isInteger(size) ? String(size) : size.toFixed(2);
  return semitones > 0 ? `+${text}` : semitones < 0 ? `−${text}` : '±0';
}

const LEVEL_WORDS: Readonly<Record<number, { sign: string; words: string }>> = {
  2: { sign: '2 : 1', words: 'two beats of the target to one of its own' },
  0.5: { sign: '1 : 2', words: 'one beat of the target to two of its own' },
  1.5: { sign: '3 : 2', words: 'three beats of the target to two of its own' },
  [2 / 3]: { sign: '2 : 3', words: 'two beats of the target to three of its own' },
};

/** Beats of the target to beats of its own, "1 : 2"; null where they are the same. */
export const levelSign = ({ level }: Proposal): string | null => LEVEL_WORDS[level]?.sign ?? null;

/** What becomes of it, as a sentence. */
export function proposalSentence(proposal: Proposal): string {
  const { ratio, semitones, otherWay, becomes, cents, bars, strain, word, remarks } = proposal;
  const level = LEVEL_WORDS[proposal.level]?.words;
  const words = [
    ratio === 1 ? 'its tempo stays' : `tempo ${timesText(ratio)}`,
    ...(level ? [level] : []),
    ...(semitones !== 0 || becomes ? [`${semitonesText(semitones)} semitones`] : []),
    ...(otherWay !== null ? [`or ${semitonesText(otherWay)}`] : []),
    ...(becomes && becomes !== 'the key' ? [`to ${becomes}`] : []),
    ...(cents !== 0 ? [`${semitonesText(cents)} cents of tuning`] : []),
    ...(bars !== null ? [`${bars} ${bars === 1 ? 'bar' : 'bars'}`] : []),
    `strain ${strain.toFixed(2)}, ${word}`,
    ...remarks,
  ];
  return words.join('; ');
}
