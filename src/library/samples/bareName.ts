import { shortKey, type Key } from '@/core/harmony/keyNames';
import { saidByName } from '@/core/readings/nameReading';

/** A number in a name is a tempo without a doubt from here on: “bpm” stands beside it. */
const SURE_TEMPO = 0.9;
/** As "Dm" and "F# minor" do; a lone letter is no key unless it is the sample's own. */
const SURE_KEY = 0.8;

interface Own {
  tempoBpm: number | null;
  key: Key | null;
}

/** Whether a number says a tempo, as exactly as it is written: "118" is 117.6 as well. */
function isTempo(written: string, tempoBpm: number): boolean {
  const decimals = /[.,](\d+)/.exec(written)?.[1].length ?? 0;
  return Math.abs(parseFloat(written.replace(',', '.')) - tempoBpm) <= 0.5 * 10 ** -decimals + 1e-9;
}

/** A name without some words of it, and without the marks that stood between them. */
function without(stem: string, words: string): string {
  const spaced = words.split(' ').map((word) => word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const found = new RegExp(`[\\s_.,-]*(?<![\\p{L}\\d])${spaced.join('[\\s_.-]*')}(?![\\p{L}\\d#♯♭])`, 'u');
  return stem
    .replace(found, '')
    .replace(/\(\s*\)|\[\s*\]/g, '')
    .replace(/^[\s_.,-]+|[\s_,-]+$/g, '');
}

/**
 * A name without the tempo and the key that it says, so that they are not written into it twice. Numbers without “bpm” and lone letters
 * go only where they are the sample's own tempo and key. `own`: null for what is to stay.
 */
export function bareName(stem: string, own: Own): string {
  let bare = stem;
  if (own.tempoBpm !== null) {
    const { tempo } = saidByName(`${bare}.name`);
    if (tempo && (tempo.sureness >= SURE_TEMPO || isTempo(tempo.text, own.tempoBpm)))
      bare = without(bare, tempo.text);
  }
  if (own.key !== null) {
    const { key } = saidByName(`${bare}.name`);
    if (key && (key.sureness >= SURE_KEY || key.text === shortKey(own.key))) bare = without(bare, key.text);
  }
  return bare;
}
