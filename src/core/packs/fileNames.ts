/** The longest name of a file, letters: systems allow 255 bytes, of which a letter may take three. */
const LONGEST = 80;
/** Names that some systems keep for devices. */
const KEPT = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** A name that every system can hold, without its ending: no separators, no marks that some refuse, no dots or spaces around it. */
export function safeStem(stem: string): string {
  const safe = stem
    .normalize('NFC')
    .replace(/[\p{Cc}<>:"/\\|?*]/gu, '-')
    .replace(/^[\s.]+|[\s.]+$/g, '')
    .slice(0, LONGEST)
    .replace(/[\s.]+$/g, '');
  return safe === '' ? 'sample' : KEPT.test(safe) ? `${safe}-` : safe;
}

/** Gives every name once: of several alike, also in capitals, the later ones are numbered before their ending. */
export function eachOnce(): (stem: string, ending?: string) => string {
  const given = new Set<string>();
  return (stem, ending = '') => {
    let wanted = stem + ending;
    for (let n = 2; given.has(wanted.toLowerCase()); n++) wanted = `${stem} (${n})${ending}`;
    given.add(wanted.toLowerCase());
    return wanted;
  };
}
