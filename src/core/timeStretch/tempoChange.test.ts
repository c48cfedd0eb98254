import { speedText, tempoChangeText } from './tempoChange';

test.each([
  [118, 96, 1, '118 → 96 BPM (−18.6 %)'],
  [82, 150, 2, '164 → 150 BPM (−8.5 %)'],
  [88.402, 88.402, 1, '88.402 → 88.402 BPM (±0 %)'],
  [60, 90, 1, '60 → 90 BPM (+50 %)'],
])('%d to %d at level %d', (from, to, level, words) => {
  expect(tempoChangeText(from, to, level)).toBe(words);
});

test('what is half as long again goes a third slower', () => expect(speedText(1.5)).toBe('−33.3 %'));
