/** The longest name of a file, bytes of UTF-8: systems allow 255, and something is put behind it. */
const LONGEST = 200;
/** Names that some systems keep for devices. */
const KEPT = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** A name that every system can hold, without its ending: no separators, no marks that some refuse, no dots or spaces around it. */
export function safeStem(stem: string): string {
  const safe = stem
    .normalize('NFC')
    .replace(/[\p{Cc}<>:"/\\|?*]/gu, '-')
    .replace(/^[\s.]+/g, '');
  const cut = shortened(safe).replace(/[\s.]+$/g, '');
  return cut === '' ? 'sample' : KEPT.test(cut) ? `${cut}-` : cut;
}

/** As many whole characters as fit. */
function shortened(text: string): string {
  const encoder = new TextEncoder();
  let bytes = 0;
  let kept = '';
  for (const character of text) {
    bytes += encoder.encode(character).length;
    if (bytes > LONGEST) break;
    kept += character;
  }
  return kept;
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
