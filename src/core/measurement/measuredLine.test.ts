import { readFileSync } from 'node:fs';
import { measuredLine, measuredLineSchema } from './measuredLine';

test('the schema in docs/ is the one that lines are checked with', () => {
  const written = JSON.parse(readFileSync('docs/measurement.schema.json', 'utf8')) as unknown;
  expect(written).toEqual(JSON.parse(JSON.stringify(measuredLineSchema())));
});

test('a line is a measured file or an error, nothing between', () => {
  expect(measuredLine.safeParse({ file: 'x.wav', error: 'This is not audio.' }).success).toBe(true);
  expect(measuredLine.safeParse({ file: 'x.wav' }).success).toBe(false);
  expect(measuredLine.safeParse({ file: 'x.wav', error: '' }).success).toBe(false);
});
