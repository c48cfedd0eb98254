import type { FileMarks } from '../formats/fileMarks';
import { DEFAULT_BPM, type MidiClaims } from '../formats/midi';
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

/** Readings from the header of a MIDI performance. What stands there when nobody set it says next to nothing. */
export function readClaims({ bpm, meter, key }: MidiClaims): Reading[] {
  const readings: Reading[] = [];
  const source = 'embedded tag';
  const detail = 'the file’s header';
  const unset = bpm === DEFAULT_BPM;
  if (bpm !== null)
    readings.push({
      property: 'tempo',
      value: bpm,
      source,
      sureness: unset ? 0.1 : 0.5,
      detail: unset ? `${detail}, which says ${DEFAULT_BPM} when nobody set it` : detail,
    });
  if (meter) {
    const usual = meter.beatsPerBar === 4 && meter.beatUnit === 4;
    readings.push({ property: 'meter', value: meter, source, sureness: usual ? 0.2 : 0.6, detail });
  }
  if (key) {
    const usual = key.tonic === 0 && key.mode === 'major';
    readings.push({ property: 'key', value: key, source, sureness: usual ? 0.2 : 0.6, detail });
  }
  return readings;
}

/** Labels that people give to the first downbeat. */
const ONE_LABEL = /^(the )?one$|^(first )?downbeat$|^bar 0*1$|^0*1([.|: ]0*1)*$/i;

/**
 * Readings from what stands in a file besides its tags: a cue that is named as the first downbeat, where its
 * loop begins, and tempo and key in free texts, as far as they say so in plain words ("96 bpm", "key: Am",
 * "in D minor").
 */
export function readMarks({ cues, loop, texts }: FileMarks, sampleRate: number): Reading[] {
  const readings: Reading[] = [];
  const say = (reading: Reading) => {
    if (!readings.some(({ property }) => property === reading.property)) readings.push(reading);
  };
  const source = 'embedded tag';
  const one = cues.find(({ label }) => ONE_LABEL.test(label.trim()));
  if (one)
    say({
      property: 'one',
      value: one.frame / sampleRate,
      source,
      sureness: 0.7,
      detail: `cue “${one.label.trim()}”`,
    });
  if (loop)
    say({
      property: 'one',
      value: loop.start / sampleRate,
      source,
      sureness: 0.4,
      detail: 'where its loop begins',
    });
  for (const { field, text } of texts) {
    const tempo =
      /(\d{2,3}(?:[.,]\d{1,4})?)\s*bpm/i.exec(text) ??
      /\b(?:bpm|tempo)\s*[:=]?\s*(\d{2,3}(?:[.,]\d{1,4})?)/i.exec(text);
    const bpm = tempo ? Number(tempo[1].replace(',', '.')) : 0;
    if (bpm >= 20 && bpm <= 400)
      say({ property: 'tempo', value: bpm, source, sureness: 0.6, detail: `${field} “${tempo![0]}”` });
    const key =
      /\bkey\s*[:=]?\s*([A-H][#b♯♭]?\s*(?:minor|major|min|maj|m)?)\b/i.exec(text) ??
      /\b(?:in )?([A-H][#b♯♭]?[ -]?(?:minor|major))\b/.exec(text);
    if (!key) continue;
    const spelled = /[a-z]{2}|m$/.test(key[1].slice(1)) ? key[1] : `${key[1].trim()} major`;
    const reading = readName(`x ${spelled}.key`).find(({ property }) => property === 'key');
    if (reading) say({ ...reading, source, sureness: 0.6, detail: `${field} “${key[0].trim()}”` });
  }
  return readings;
}
