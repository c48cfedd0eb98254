import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { ENGINE } from './engine';

test('other weights are another engine: whoever replaces them raises its version', () => {
  const weights = createHash('sha256').update(readFileSync('src/core/weights/weights.json')).digest('hex');
  expect(weights.slice(0, 8)).toBe(ENGINE.weights);
});
