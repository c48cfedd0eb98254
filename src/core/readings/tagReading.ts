import { readName } from './nameReading';
import type { Reading } from './reading';

/** Open tag fields that hold a tempo or a key, by standard: ID3v2 frames, Vorbis comments, MP4 atoms. */
const TEMPO_FIELDS = new Set(['TBPM', 'BPM', 'TEMPO', 'TMPO']);
const KEY_FIELDS = new Set(['TKEY', 'KEY', 'INITIALKEY']);

/**
 * Readings from embedded tags given as field and text. Values that are no tempo or key are passed over:
 * tags are as often wrong as right, but rarely nonsense on purpose.
 */
export function readTags(fields: readonly { field: string; text: string }[]): Reading[] {
  const readings: Reading[] = [];
  for (const { field, text } of fields) {
    const name = field.toUpperCase();
    if (TEMPO_FIELDS.has(name)) {
      const bpm = Number(text.trim().replace(',', '.'));
      if (bpm >= 10 && bpm <= 1000 && !readings.some((r) => r.property === 'tempo')) {
        readings.push({
          property: 'tempo',
          value: bpm,
          source: 'embedded tag',
          sureness: 0.7,
          detail: `${field} “${text}”`,
        });
      }
    } else if (KEY_FIELDS.has(name) && !readings.some((r) => r.property === 'key')) {
      // The standard writes "C" for C major and "o" for off key.
      const spelled = /^[A-H][#b]?$/i.test(text.trim()) ? `${text.trim()} major` : text;
      if (text.trim() === 'o') {
        readings.push({
          property: 'key',
          value: { none: true },
          source: 'embedded tag',
          sureness: 0.6,
          detail: `${field} “o”`,
        });
      }
      const key = readName(`${spelled}.key`).find((r) => r.property === 'key');
      if (key) readings.push({ ...key, source: 'embedded tag', sureness: 0.7, detail: `${field} “${text}”` });
    }
  }
  return readings;
}
