import type { Key } from '../harmony/keyNames';
import type { Reading } from './reading';

/** Words after which (or before which) a number is not a tempo. */
const COUNTING_WORDS = new Set(
  'take tk no nr num number vol volume pt part track trk v ver version op opus cat file disc cd bar bars mix scene act'.split(
    ' ',
  ),
);
const UNIT_WORDS = new Set('khz hz k bit bits kbps kb mb sec s ms bars bar st semitones cents db'.split(' '));
const NATURALS: Record<string, number> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11, h: 11 };
const MINOR_WORDS = new Set(['m', 'min', 'minor', 'mi', 'moll']);
const MAJOR_WORDS = new Set(['maj', 'major', 'dur']);

interface Token {
  text: string;
  lower: string;
}

/**
 * Tempo and key as people write them into file names. Numbers that are years, takes, counts, sample rates
 * or catalogue numbers are told apart by what stands beside them; what is left without "bpm" is only half
 * sure. The extension is ignored. Returns at most one reading of each.
 */
export function readName(fileName: string): Reading[] {
  const stem = fileName.replace(/^.*[/\\]/, '').replace(/\.[a-z0-9]{2,5}$/i, '');
  const tokens = tokenize(stem);
  const readings: Reading[] = [];
  const tempo = tempoIn(tokens);
  if (tempo) {
    readings.push({
      property: 'tempo',
      value: tempo.bpm,
      source: 'file name',
      sureness: tempo.sureness,
      detail: `“${tempo.text}” in the name`,
    });
  }
  const key = keyIn(tokens);
  if (key) {
    readings.push({
      property: 'key',
      value: key.key,
      source: 'file name',
      sureness: key.sureness,
      detail: `“${key.text}” in the name`,
    });
  }
  return readings;
}

/** Splits at spaces, punctuation and changes between letters and digits; keeps decimals and accidentals whole. */
function tokenize(stem: string): Token[] {
  const parts = stem.replace(/([a-z])([A-Z])/g, '$1 $2').match(/\d+[.,]\d+|\d+|[A-Za-zÀ-ÿ]+[#♯♭]?[A-Za-z]*/g);
  return (parts ?? []).map((text) => ({ text, lower: text.toLowerCase() }));
}

function tempoIn(tokens: Token[]): { bpm: number; sureness: number; text: string } | null {
  let best: { bpm: number; sureness: number; text: string } | null = null;
  tokens.forEach(({ text }, i) => {
    if (!/^\d/.test(text)) return;
    const bpm = Number(text.replace(',', '.'));
    if (!(bpm >= 30 && bpm <= 300)) return;
    const before = tokens[i - 1]?.lower ?? '';
    const after = tokens[i + 1]?.lower ?? '';
    let sureness: number;
    if (after === 'bpm' || before === 'bpm') sureness = 0.9;
    else if (COUNTING_WORDS.has(before) || UNIT_WORDS.has(after) || /^0/.test(text)) return;
    else {
      sureness = 0.5;
      // A number in front of everything is as often a count, and two bare numbers cast doubt on each other.
      if (i === 0) sureness -= 0.15;
      if (bpm < 60 || bpm > 190) sureness -= 0.15;
      if (/[.,]/.test(text)) sureness += 0.15;
    }
    if (!best || sureness > best.sureness)
      best = { bpm, sureness, text: after === 'bpm' ? `${text} ${tokens[i + 1].text}` : text };
  });
  return best;
}

function keyIn(tokens: Token[]): { key: Key; sureness: number; text: string } | null {
  let best: { key: Key; sureness: number; text: string } | null = null;
  tokens.forEach(({ text }, i) => {
    const next = tokens[i + 1]?.lower ?? '';
    const match = /^([A-Ha-h])(#|♯|b|♭|is|es|s|sharp|flat)?(m|min|minor|mi|moll|maj|major|dur|M)?$/.exec(
      text,
    );
    if (!match) return;
    const [, letter, accidental = '', suffix = ''] = match;
    const lower = letter.toLowerCase();
    if (accidental === 's' && lower !== 'a' && lower !== 'e') return;
    let tonic = NATURALS[lower];
    if (/^(#|♯|is|sharp)$/.test(accidental)) tonic++;
    else if (accidental) tonic--;
    let mode: Key['mode'] | null = null;
    let written = text;
    if (suffix) mode = suffix === 'M' || MAJOR_WORDS.has(suffix.toLowerCase()) ? 'major' : 'minor';
    else if (MINOR_WORDS.has(next) || MAJOR_WORDS.has(next)) {
      mode = MINOR_WORDS.has(next) ? 'minor' : 'major';
      written = `${text} ${tokens[i + 1].text}`;
    }
    // A lone letter is an article, a version or a side; with an accidental it may be a key, in major.
    if (!mode && !/^(#|♯|b|♭|is|es)$/.test(accidental)) return;
    if (!mode && letter !== letter.toUpperCase()) return;
    const sureness = mode ? (letter === letter.toUpperCase() ? 0.85 : 0.4) : 0.5;
    if (!best || sureness > best.sureness)
      best = { key: { tonic: (tonic + 12) % 12, mode: mode ?? 'major' }, sureness, text: written };
  });
  return best;
}
