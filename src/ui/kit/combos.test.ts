import { comboOf, comboText, isCombo, sameCombo } from './combos';

const pressed = (code: string, held: Partial<KeyboardEvent> = {}, typed = '') =>
  ({
    code,
    key: typed,
    shiftKey: false,
    ctrlKey: false,
    metaKey: false,
    altKey: false,
    ...held,
  }) as KeyboardEvent;

test('a place answers with exactly the keys that are held with it', () => {
  expect(isCombo('Space', pressed('Space'))).toBe(true);
  expect(isCombo('Space', pressed('Space', { shiftKey: true }))).toBe(false);
  expect(isCombo('Shift+Comma', pressed('Comma', { shiftKey: true }))).toBe(true);
  expect(isCombo('Shift+Comma', pressed('Comma'))).toBe(false);
  expect(isCombo('Alt+KeyN', pressed('KeyN', { altKey: true }))).toBe(true);
});

test('Ctrl and Cmd are the same', () => {
  expect(isCombo('Ctrl+KeyZ', pressed('KeyZ', { ctrlKey: true }))).toBe(true);
  expect(isCombo('Ctrl+KeyZ', pressed('KeyZ', { metaKey: true }))).toBe(true);
  expect(isCombo('Ctrl+Shift+KeyZ', pressed('KeyZ', { metaKey: true, shiftKey: true }))).toBe(true);
  expect(isCombo('KeyZ', pressed('KeyZ', { metaKey: true }))).toBe(false);
});

test('a character answers wherever it stands, large or small, but not to a command', () => {
  expect(isCombo('?', pressed('Minus', { shiftKey: true }, '?'))).toBe(true);
  expect(isCombo('+', pressed('Equal', { shiftKey: true }, '+'))).toBe(true);
  // With Caps Lock.
  expect(isCombo('u', pressed('KeyU', {}, 'U'))).toBe(true);
  expect(isCombo('u', pressed('KeyU', { shiftKey: true }, 'U'))).toBe(false);
  expect(isCombo('Shift+KeyU', pressed('KeyU', { shiftKey: true }, 'U'))).toBe(true);
  expect(isCombo('u', pressed('KeyU', { ctrlKey: true }, 'u'))).toBe(false);
});

test('what is pressed is read as the combo that answers to it', () => {
  const events = [
    pressed('KeyD', {}, 'd'),
    pressed('KeyD', { shiftKey: true }, 'D'),
    pressed('Space', {}, ' '),
    pressed('KeyZ', { ctrlKey: true, shiftKey: true }, 'Z'),
    pressed('ArrowDown', { altKey: true }, 'ArrowDown'),
    pressed('Comma', {}, ','),
  ];
  const combos = events.map(comboOf);
  expect(combos).toEqual(['d', 'Shift+KeyD', 'Space', 'Ctrl+Shift+KeyZ', 'Alt+ArrowDown', ',']);
  events.forEach((event, i) => expect(isCombo(combos[i]!, event)).toBe(true));
  expect(comboOf(pressed('ShiftLeft', { shiftKey: true }, 'Shift'))).toBeNull();
});

test('a key is printed as it stands on the keyboard', () => {
  expect(['d', 'Shift+Comma', 'Ctrl+KeyZ', 'PageDown', '+', '-', 'Digit3'].map(comboText)).toEqual([
    'D',
    'Shift + ,',
    'Ctrl + Z',
    'Page ↓',
    '+',
    '−',
    '3',
  ]);
  expect(sameCombo('d', 'KeyD')).toBe(true);
  expect(sameCombo('d', 'Shift+KeyD')).toBe(false);
});
