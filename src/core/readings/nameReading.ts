import { stemAndEnding } from '../formats/endings';
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

/** What people call the parts of a piece; a stem's name says which one it is. */
const PART_WORDS: Record<string, string> = {
  ...wordsFor('drums', 'drum drums kit beat beats kick snare hat hats toms break groove'),
  ...wordsFor('percussion', 'perc percussion shaker conga congas bongo bongos tambourine claps clap'),
  ...wordsFor('bass', 'bass sub bassline'),
  ...wordsFor('chords', 'chord chords keys piano organ guitar gtr guitars rhodes comp accordion'),
  ...wordsFor('lead', 'lead melody topline solo theme riff arp'),
  ...wordsFor('voice', 'voice voices vocal vocals vox choir sung humming'),
  ...wordsFor('pad', 'pad pads strings atmo drone'),
  ...wordsFor('effect', 'fx effect effects riser sweep noise'),
  ...wordsFor('full mix', 'mix fullmix master'),
};

function wordsFor(part: string, words: string): Record<string, string> {
  return Object.fromEntries(words.split(' ').map((word) => [word, part]));
}

/** What a name says of the part that is played and of its number among takes; null where it says nothing. */
export interface NamedPart {
  part: string | null;
  take: number | null;
  /** What is left of the name: the words that may name the piece, lower case, in order. */
  piece: string[];
}

/** Words that stand in names of any piece. */
const EMPTY_WORDS = new Set(
  'bpm loop loops stem stems take tk alt wet dry final bounce render export v ver version no nr the a and of one shot oneshot hit idea construction'.split(
    ' ',
  ),
);

/** Part, take and piece as a file name says them. The extension is ignored. */
export function readPart(fileName: string): NamedPart {
  const tokens = tokenize(stemOf(fileName));
  const key = keyIn(tokens);
  const keyWords = new Set(key?.text.toLowerCase().split(' '));
  let part: string | null = null;
  let take: number | null = null;
  const piece: string[] = [];
  tokens.forEach(({ text, lower }, i) => {
    const before = tokens[i - 1]?.lower ?? '';
    if (/^\d+$/.test(text)) {
      if (before === 'take' || before === 'tk') take = Number(text);
      return;
    }
    if (/^\d/.test(text) || EMPTY_WORDS.has(lower) || keyWords.has(lower)) return;
    const named = PART_WORDS[lower];
    // "Full Mix", "Drum Bass": the last word says what it is.
    if (named) part = named;
    else if (lower !== 'full') piece.push(lower);
  });
  return { part, take, piece };
}

function stemOf(fileName: string): string {
  return stemAndEnding(fileName.replace(/^.*[/\\]/, ''))[0];
}

/**
 * What a name and the folders that it lies in say of tempo, key and time signature. Folders speak only where the name
 * is silent and only in plain words ("92 bpm", "A minor"), the nearest first, and are believed less: they are
 * as often about most of their files as about all.
 */
export function readNameAndFolder(fileName: string, folder: string): Reading[] {
  const readings = readName(fileName);
  for (const part of folder.split('/').reverse()) {
    for (const reading of readName(`${part}.folder`)) {
      if (readings.some(({ property }) => property === reading.property)) continue;
      const plain = reading.property === 'tempo' ? / bpm”/i.test(reading.detail) : reading.sureness >= 0.8;
      if (!plain) continue;
      const detail = reading.detail.replace('in the name', `in the folder “${part}”`);
      readings.push({ ...reading, sureness: 0.6 * reading.sureness, detail });
    }
  }
  return readings;
}

/** Meters as people write them where a stroke is not allowed: "3-4", "in 6-8". */
const WRITTEN_METER = /(?:^|[^\d.,-])(2|3|4|5|6|7|9|12)[-∕⁄](4|8)(?![\d-])/;

/**
 * Tempo and key as people write them into file names. Numbers that are years, takes, counts, sample rates
 * or catalogue numbers are told apart by what stands beside them; what is left without "bpm" is only half
 * sure. The extension is ignored. Returns at most one reading of each.
 */
export function readName(fileName: string): Reading[] {
  const stem = stemOf(fileName);
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
  const meter = WRITTEN_METER.exec(stem);
  if (meter)
    readings.push({
      property: 'meter',
      value: { beatsPerBar: Number(meter[1]), beatUnit: Number(meter[2]) },
      source: 'file name',
      sureness: 0.5,
      detail: `“${meter[1]}-${meter[2]}” in the name`,
    });
  return readings;
}

/** The tempo and the key that a name says, with the words that say them; null where it says none. */
export function saidByName(fileName: string): {
  tempo: ReturnType<typeof tempoIn>;
  key: ReturnType<typeof keyIn>;
} {
  const tokens = tokenize(stemOf(fileName));
  return { tempo: tempoIn(tokens), key: keyIn(tokens) };
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
      // “P070”, “S043”: a letter and a padded number are a place in a row of files.
      if (/^0/.test(text) && /^[a-z]{1,2}$/.test(before)) return;
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
