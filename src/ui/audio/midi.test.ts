import { readNote, simulatedKeyboard } from './midi';

test('notes begin with velocity and end without', () => {
  expect(readNote([0x90, 60, 96], 5)).toEqual({ note: 60, on: true, velocity: 96, at: 5 });
  expect(readNote([0x93, 60, 0], 5)).toMatchObject({ on: false });
  expect(readNote([0x80, 60, 64], 5)).toMatchObject({ on: false });
});

test('what is no note is passed over', () => {
  for (const bytes of [[0xf8], [0xb0, 64, 127], [0x90, 60], []]) expect(readNote(bytes, 0)).toBeNull();
});

test('the simulated keyboard is heard until nobody listens', () => {
  const heard: unknown[] = [];
  const stop = simulatedKeyboard.listen((message) => heard.push(message));
  simulatedKeyboard.press(36, 1);
  simulatedKeyboard.release(36, 2);
  stop();
  simulatedKeyboard.press(36, 3);
  expect(heard).toEqual([
    { note: 36, on: true, velocity: 96, at: 1 },
    { note: 36, on: false, velocity: 0, at: 2 },
  ]);
});
