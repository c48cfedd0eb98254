/**
 * A key with those that are held with it, as text. A single character ("d", "+") answers wherever it stands on the
 * keyboard; anything longer is the place of a key ("ArrowDown", "Shift+Comma", "Ctrl+KeyZ"). Ctrl is also Cmd.
 */
export type Combo = string;

interface Parts {
  shift: boolean;
  ctrl: boolean;
  alt: boolean;
  /** A character, or the code of a place. */
  key: string;
}

function partsOf(combo: Combo): Parts {
  const held = [];
  let rest = combo;
  for (let found; (found = /^(Shift|Ctrl|Alt)\+(?=.)/.exec(rest)); rest = rest.slice(found[0].length))
    held.push(found[1]);
  return { shift: held.includes('Shift'), ctrl: held.includes('Ctrl'), alt: held.includes('Alt'), key: rest };
}

const isLetter = (key: string) => key.toLowerCase() !== key.toUpperCase();

/** Whether an event is this key. */
export function isCombo(combo: Combo, event: KeyboardEvent): boolean {
  const { shift, ctrl, alt, key } = partsOf(combo);
  const isHeld = (event.ctrlKey || event.metaKey) === ctrl && event.altKey === alt;
  // A sign may need Shift on one keyboard and not on another; a letter with Shift is another command.
  if (key.length === 1)
    return isHeld && event.key.toLowerCase() === key && !(isLetter(key) && event.shiftKey);
  return isHeld && event.shiftKey === shift && event.code === key;
}

const HELD_ALONE = ['Shift', 'Control', 'Alt', 'Meta', 'AltGraph', 'CapsLock', 'Dead'];

/** What was pressed, as a combo; null for keys that are only held with others. */
export function comboOf(event: KeyboardEvent): Combo | null {
  if (HELD_ALONE.includes(event.key)) return null;
  const isCharacter = event.key.length === 1 && event.key !== ' ';
  if (isCharacter && !event.ctrlKey && !event.metaKey && !event.altKey && !event.shiftKey)
    return event.key.toLowerCase();
  return [
    ...(event.ctrlKey || event.metaKey ? ['Ctrl'] : []),
    ...(event.altKey ? ['Alt'] : []),
    ...(event.shiftKey ? ['Shift'] : []),
    event.code,
  ].join('+');
}

const PLACES: Readonly<Record<string, string>> = {
  ArrowDown: '↓',
  ArrowUp: '↑',
  ArrowLeft: '←',
  ArrowRight: '→',
  PageDown: 'Page ↓',
  PageUp: 'Page ↑',
  Escape: 'Esc',
  Comma: ',',
  Period: '.',
  Minus: '−',
  Equal: '=',
  BracketLeft: '[',
  BracketRight: ']',
};

const nameOf = (key: string): string =>
  key === '-' ? '−' : key.length === 1 ? key.toUpperCase() : (PLACES[key] ?? key.replace(/^(Key|Digit)/, ''));

/** As it is printed: "Ctrl + Z", "↓", "D". */
export function comboText(combo: Combo): string {
  const { shift, ctrl, alt, key } = partsOf(combo);
  return [ctrl && 'Ctrl', alt && 'Alt', shift && 'Shift', nameOf(key)].filter(Boolean).join(' + ');
}

/** The same text for two combos that one press can mean ("d" and "KeyD"). */
export const sameCombo = (a: Combo, b: Combo): boolean => comboText(a) === comboText(b);
