import { counted } from '@/words/plural';
import { keyLabel } from '@/core/harmony/keyNames';
import type { SampleSummary } from '@/contract/entry';
import type { WriteFormat } from '@/core/recipes/recipe';
import type { KeyReadingValue } from '@/core/readings/reading';

/** "96", "88.402": as many decimals as say something, three at most. */
export function bpmText(bpm: number): string {
  return String(Math.round(bpm * 1000) / 1000);
}

/** The key of a row in words; a one-shot's root alone, which has no mode. Null where it has neither. */
export function keyOfRow({
  kind,
  keyTonic,
  keyMode,
}: Pick<SampleSummary, 'kind' | 'keyTonic' | 'keyMode'>): string | null {
  if (keyTonic === null || keyMode === null) return null;
  const label = keyLabel({ tonic: keyTonic, mode: keyMode });
  return kind === 'oneshot' ? label.split(' ')[0] : label;
}

/** "WAV 24", "MIDI notes" */
export const formatText = (format: WriteFormat) =>
  format === 'midi' ? 'MIDI notes' : format.replace('wav', 'WAV').replace('flac', 'FLAC');

/** "1 bar", "4 bars" */
export const barsText = (bars: number) => counted(bars, 'bar');

/** "0:07.4" for short files, "12:03" for long ones. */
export function lengthText(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  const rest = seconds - 60 * minutes;
  return seconds < 600
    ? `${minutes}:${rest.toFixed(1).padStart(4, '0')}`
    : `${minutes}:${String(Math.floor(rest)).padStart(2, '0')}`;
}

/** "0.1828 s" */
export function timeText(seconds: number, decimals = 4): string {
  return `${seconds.toFixed(decimals)} s`;
}

/** "+3.2 ms", with a true minus sign. */
export function signedText(value: number, decimals: number, unit: string): string {
  const text = Math.abs(value).toFixed(decimals);
  const sign = Number(text) === 0 ? '±' : value > 0 ? '+' : '−';
  return `${sign}${text} ${unit}`;
}

export function keyText(key: KeyReadingValue): string {
  return 'none' in key ? 'no key' : keyLabel(key);
}

export function percentText(share: number): string {
  return `${Math.round(share * 100)} %`;
}

export function sizeText(bytes: number): string {
  if (bytes < 1e6) return `${Math.round(bytes / 1000)} kB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;
}

/** "40 s", "3 min", "2 h 10 min": how long something will take. */
export function spanText(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

export const KIND_TEXT: Record<string, string> = {
  song: 'song',
  loop: 'loop',
  stem: 'stem',
  oneshot: 'one-shot',
  midi: 'MIDI',
};

/** A number that is an estimate: "≈ 12,400", to its two first digits. */
function aboutText(count: number): string {
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, count))) - 1);
  return `≈ ${(Math.round(count / step) * step).toLocaleString('en')}`;
}

/** A count as it is, or as an estimate. */
export const countText = (count: number, exact: boolean): string =>
  exact ? count.toLocaleString('en') : aboutText(count);
