import { counted } from '@/words/plural';
import type { Proposal } from '@/core/timeStretch/proposal';
import { speedText, tempoChangeText } from '@/core/timeStretch/tempoChange';

/** "+3", "−9", with a true minus sign; a fraction to two places. */
export function semitonesText(semitones: number): string {
  const size = Math.abs(semitones);
  const text = Number.isInteger(size) ? String(size) : size.toFixed(2);
  return semitones > 0 ? `+${text}` : semitones < 0 ? `−${text}` : '±0';
}

const LEVEL_WORDS: Readonly<Record<number, string>> = {
  2: 'half-time: two target beats per beat',
  0.5: 'double-time: one target beat per two beats',
  1.5: '3 : 2: three target beats per two beats',
  [2 / 3]: '2 : 3: two target beats per three beats',
};

/** What becomes of the tempo of a sample, "118 → 96 BPM (−18.6 %)"; with pitch following speed of its speed alone. Null where it stays. */
export function tempoBecomes(
  { ratio, tempoBpm, level }: Pick<Proposal, 'ratio' | 'tempoBpm' | 'level'>,
  own: number | null,
): string | null {
  if (ratio === 1 && tempoBpm === null) return null;
  return own === null || tempoBpm === null ? speedText(ratio) : tempoChangeText(own, tempoBpm, level);
}

/** The same under its own tempo in a row, where there is little room: "→ 96 BPM (−18.6 %)", at another level "164 → 96 (−41.5 %)". */
export function tempoBecomesShort(proposal: Proposal, own: number | null): string | null {
  const { tempoBpm, level } = proposal;
  const words = tempoBecomes(proposal, own);
  if (words === null || own === null || tempoBpm === null) return words;
  return level === 1 ? words.slice(words.indexOf('→')) : words.replace(' BPM', '');
}

/** What becomes of it, as a sentence. `own`: its tempo, BPM. */
export function proposalSentence(proposal: Proposal, own: number | null): string {
  const { semitones, otherWay, becomes, cents, bars, strain, word, remarks } = proposal;
  const level = LEVEL_WORDS[proposal.level];
  const words = [
    tempoBecomes(proposal, own) ?? 'tempo unchanged',
    ...(level ? [level] : []),
    ...(semitones !== 0 || becomes ? [`${semitonesText(semitones)} semitones`] : []),
    ...(otherWay !== null ? [`or ${semitonesText(otherWay)}`] : []),
    ...(becomes && becomes !== 'the key' ? [`to ${becomes}`] : []),
    ...(cents !== 0 ? [`${semitonesText(cents)} cents of tuning`] : []),
    ...(bars !== null ? [counted(bars, 'bar')] : []),
    `strain ${strain.toFixed(2)}, ${word}`,
    ...remarks,
  ];
  return words.join('; ');
}
