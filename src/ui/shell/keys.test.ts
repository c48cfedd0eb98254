import { character, key } from './keys';

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

test('a key answers by its place, with exactly the keys that are held with it', () => {
  expect(key('Space')(pressed('Space'))).toBe(true);
  expect(key('Space')(pressed('Space', { shiftKey: true }))).toBe(false);
  expect(key('Shift+Comma')(pressed('Comma', { shiftKey: true }))).toBe(true);
  expect(key('Shift+Comma')(pressed('Comma'))).toBe(false);
  expect(key('Alt+KeyN')(pressed('KeyN', { altKey: true }))).toBe(true);
});

test('Ctrl and Cmd are the same', () => {
  expect(key('Ctrl+KeyZ')(pressed('KeyZ', { ctrlKey: true }))).toBe(true);
  expect(key('Ctrl+KeyZ')(pressed('KeyZ', { metaKey: true }))).toBe(true);
  expect(key('KeyZ')(pressed('KeyZ', { metaKey: true }))).toBe(false);
});

test('a character answers wherever it stands, large or small, but not to a command', () => {
  expect(character('?')(pressed('Minus', { shiftKey: true }, '?'))).toBe(true);
  expect(character('u')(pressed('KeyU', {}, 'U'))).toBe(true);
  expect(character('u')(pressed('KeyU', { ctrlKey: true }, 'u'))).toBe(false);
});
