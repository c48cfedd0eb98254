import type { Key } from '../harmony/keyNames';
import type { Reading } from './reading';

/** Words after which (or before which) a number is not a tempo. */
const COUNTING_WORDS = new Set(
  'take tk no nr num number vol volume pt part track trk v ver version op opus cat file disc cd scene act'.split(
    ' ',
  ),
);
/** Words after which a small number counts, but a large one may be a tempo: "Mix 2", "Full Mix 122". */
const WEAK_COUNTING_WORDS = new Set(['mix', 'bar', 'bars']);
/** Words after which a lone letter names a side or a section. */
const LETTERED_WORDS = new Set('side mic section verse chorus bank cam version'.split(' '));
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

/** Tempi that somebody may have written; doubled ones are. */
const SLOWEST = 30;
const FASTEST = 400;
/** Bare numbers below this are seldom tempi. */
const LIKELY_FROM = 60;

function tempoIn(tokens: Token[]): { bpm: number; sureness: number; text: string } | null {
  let best: { bpm: number; sureness: number; text: string } | null = null;
  tokens.forEach(({ text }, i) => {
    if (!/^\d/.test(text)) return;
    const bpm = Number(text.replace(',', '.'));
    if (!(bpm >= SLOWEST && bpm <= FASTEST)) return;
    const before = tokens[i - 1]?.lower ?? '';
    const after = tokens[i + 1]?.lower ?? '';
    let sureness: number;
    if (after === 'bpm' || before === 'bpm') sureness = 0.9;
    else {
      if (COUNTING_WORDS.has(before) || UNIT_WORDS.has(after)) return;
      if (WEAK_COUNTING_WORDS.has(before) && bpm < LIKELY_FROM) return;
      // Padded to three digits it may still be one ("066"); to two or four it counts.
      if (/^0/.test(text) && !(text.length === 3 && i > 0)) return;
      // Two digits in front of everything number the file.
      if (i === 0 && bpm < LIKELY_FROM && /^\d\d$/.test(text)) return;
      sureness = 0.5;
      // A number in front of everything is as often a count, and two bare numbers cast doubt on each other.
      if (i === 0) sureness -= 0.15;
      if (bpm < LIKELY_FROM || bpm > 190) sureness -= 0.15;
      if (bpm > 250) sureness -= 0.1;
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
    const match =
      /^([A-Ha-h])(#|♯|b|♭|is|es|s|sharp|flat)?(m|M|[Mm](?:in|inor|i|oll|aj|ajor)|[Dd]ur|MIN|MAJ|MINOR|MAJOR)?$/.exec(
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
    // With an accidental a letter may be a key, in major; alone it is a guess: an article, a version, a side.
    const lone = !mode && !/^(#|♯|b|♭|is|es)$/.test(accidental);
    if (!mode && letter !== letter.toUpperCase()) return;
    const before = tokens[i - 1]?.lower ?? '';
    if (lone && (i === 0 || lower === 'h' || LETTERED_WORDS.has(before) || COUNTING_WORDS.has(before)))
      return;
    const sureness = lone ? 0.3 : !mode ? 0.5 : letter === letter.toUpperCase() ? 0.85 : 0.4;
    if (!best || sureness > best.sureness)
      best = { key: { tonic: (tonic + 12) % 12, mode: mode ?? 'major' }, sureness, text: written };
  });
  return best;
}
