import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeWave } from '@/core/formats/encodeWave';
import { drumFile } from '../support/files';

/** The command that makes one file longer, shorter, higher or lower, as it is run by hand. */
const folder = mkdtempSync(join(tmpdir(), 'grento-fit-'));
afterAll(() => rmSync(folder, { recursive: true }));
const path = (name: string) => join(folder, name);
writeFileSync(path('drums.wav'), drumFile({ bpm: 101.617, bars: 2 }));
writeFileSync(
  path('tone.wav'),
  encodeWave([Float32Array.from({ length: 22_050 }, (_, i) => Math.sin(i / 9) / 2)], 44_100),
);
writeFileSync(path('poem.wav'), 'Moth, moth, at the lantern again');
writeFileSync(path('torn.json'), '{"attacks": [1, ');

function fit(...args: string[]) {
  const { status, stderr } = spawnSync(process.execPath, ['scripts/run.mjs', 'scripts/fit.ts', ...args], {
    encoding: 'utf8',
  });
  return { status, stderr };
}

/** Frames and format (3: float) of a WAV file. */
function waveAt(name: string) {
  const bytes = readFileSync(path(name));
  const channels = bytes.readUInt16LE(22);
  return { format: bytes.readUInt16LE(20), channels, frames: bytes.readUInt32LE(40) / (4 * channels) };
}

test('a file that nobody told anything about is measured first, and is exported exactly as long as asked', () => {
  expect(
    fit(path('drums.wav'), path('out.wav'), '--samples', '123457', '--semitones', '-3', '--cents', '-12.5'),
  ).toEqual({
    status: 0,
    stderr: '',
  });
  expect(waveAt('out.wav')).toMatchObject({ format: 3, frames: 123_457 });
});

test('what is known is taken from a file', () => {
  writeFileSync(path('known.json'), JSON.stringify({ attacks: [4000.5], loop: false, channels: 1 }));
  expect(
    fit(path('tone.wav'), path('long.wav'), '--ratio', '1.25', '--known', path('known.json')).status,
  ).toBe(0);
  expect(waveAt('long.wav')).toEqual({ format: 3, channels: 1, frames: Math.round(22_050 * 1.25) });
});

test.each<[string, string[], RegExp]>([
  ['no output', ['tone.wav'], /npm run -s fit/],
  ['no such file', ['nowhere.wav', 'o.wav'], /nowhere\.wav/],
  ['a poem', ['poem.wav', 'o.wav'], /poem\.wav: .*not audio/],
  ['nine times as long', ['tone.wav', 'o.wav', '--ratio', '9'], /9\.000 .* beyond/],
  ['a ratio in words', ['tone.wav', 'o.wav', '--ratio', 'half'], /--ratio wants a number; got "half"/],
  ['formants in words', ['tone.wav', 'o.wav', '--formants', 'yes'], /--formants wants 0 or 1/],
  ['half a frame', ['tone.wav', 'o.wav', '--samples', '10.5'], /10\.5 frames/],
  ['a torn file of what is known', ['tone.wav', 'o.wav', '--known', 'torn.json'], /torn\.json is no JSON/],
  ['an option that is none', ['tone.wav', 'o.wav', '--wow'], /--wow/],
])('%s: a sentence, and 2', (_, args, sentence) => {
  const { status, stderr } = fit(...args.map((word) => (/\.(wav|json)$/.test(word) ? path(word) : word)));
  expect(status).toBe(2);
  expect(stderr).toMatch(sentence);
  expect(stderr).not.toMatch(/^\s+at /m);
});
