import { createHash } from 'node:crypto';
import { inBlocks } from '../../tests/support/bytes';
import { decodeAudio } from '@/core/formats/decode';
import { DEMO_LIBRARY } from './library';

const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
const made = new Map(DEMO_LIBRARY.map((file) => [file.name, file.make()]));

test('every file decodes but the torn one', async () => {
  for (const [name, { bytes, truth }] of made) {
    const decoded = decodeAudio(inBlocks(bytes, 65536), () => {}).then(
      ({ frames }) => frames > 0,
      () => false,
    );
    expect([name, await decoded]).toEqual([name, truth !== null]);
  }
});

test('one file is a duplicate of another, all others differ', () => {
  const hashes = [...made.values()].map(({ bytes }) => hash(bytes));
  expect(new Set(hashes).size).toBe(hashes.length - 1);
  expect(hash(made.get('Curtain Groove (copy from Wilmot).wav')!.bytes)).toBe(
    hash(made.get('Curtain Groove 96 bpm Dm.wav')!.bytes),
  );
});

test('the stems begin together and are of one length', () => {
  const stems = [...made].filter(([name]) => name.startsWith('Night Parade'));
  expect(stems).toHaveLength(5);
  expect(new Set(stems.map(([, { bytes }]) => bytes.length)).size).toBe(1);
  expect(new Set(stems.map(([, { truth }]) => truth!.one)).size).toBe(1);
});

test('it is made the same each time', () => {
  const again = DEMO_LIBRARY.find(({ name }) => name.startsWith('Hobby Horse'))!;
  expect(hash(again.make().bytes)).toBe(hash(made.get(again.name)!.bytes));
});

test('it shows every kind of work', () => {
  const truths = [...made.values()].flatMap(({ truth }) => (truth ? [truth] : []));
  const has = (test: (truth: (typeof truths)[number]) => boolean) => truths.some(test);
  expect(has(({ beatsPerBar }) => beatsPerBar === 3)).toBe(true);
  expect(has(({ beatsPerBar, beatUnit }) => beatsPerBar === 6 && beatUnit === 8)).toBe(true);
  expect(has(({ kind }) => kind === 'oneshot')).toBe(true);
  expect(has(({ steady, kind }) => kind === 'song' && !steady)).toBe(true);
  expect(has(({ one }) => (one ?? 0) > 5)).toBe(true);
  expect(has(({ bpm }) => bpm !== null && bpm % 1 !== 0)).toBe(true);
});
