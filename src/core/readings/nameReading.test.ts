import { keyText } from '@/words/figures';
import { readName, readNameAndFolder, readPart } from './nameReading';

const read = (name: string) => {
  const readings = readName(name);
  const tempo = readings.find((r) => r.property === 'tempo');
  const key = readings.find((r) => r.property === 'key');
  return {
    bpm: tempo?.value ?? null,
    sure: tempo?.sureness ?? null,
    key: key?.property === 'key' ? keyText(key.value) : null,
  };
};

test.each([
  ['Curtain Groove 96 bpm Dm.wav', 96, 'D minor'],
  ['BPM 128 trapdoor F#min.aif', 128, 'F♯ minor'],
  ['rope_walk-87,5bpm-Bb major.flac', 87.5, 'B♭ major'],
  ['StiltWaltz138.wav', 138, null],
  ['lantern 100 G Dur.ogg', 100, 'G major'],
  ['Moth h moll 72.mp3', 72, 'B minor'],
  ['hobbyHorse_C#m_110.wav', 110, 'C♯ minor'],
  ['jig Ab maj.wav', null, 'A♭ major'],
  ['82BPM Soft Jig CMinor.ogg', 82, 'C minor'],
  ['Bellows C#Maj 071.wav', 71, 'D♭ major'],
  ['Parade Full Mix 122.flac', 122, null],
  ['114_Rusty_Parade_v2.mp3', 114, null],
  ['31-broken-Drum-C.flac', null, 'C major'],
  ['Strum 114 in Gmin A.flac', 114, 'G minor'],
  ['356_Rusty_Jig.mp3', 356, null],
])('%s', (name, bpm, key) => {
  expect(read(name)).toMatchObject({ bpm, key });
});

test.each([
  'Stagehand Drums Take 112.wav',
  'The Moth and the Lantern 1923.wav',
  'Prompter 44100 hz.wav',
  'puppet vol 90.wav',
  'creak 96k 24bit.wav',
  'scene 120.wav',
  '0099 door.wav',
  'A clack.wav',
  '44 lazy bellows.flac',
  'creak mix 2.wav',
  'door side B.wav',
  '066 rope.wav',
  'be as one.wav',
])('“%s” holds no tempo and no key', (name) => {
  expect(read(name)).toMatchObject({ bpm: null, key: null });
});

test('a lone letter is no more than a guess', () => {
  const [reading] = readName('Parade Drum D.wav');
  expect(reading).toMatchObject({ property: 'key', sureness: 0.3 });
});

test('a number beside “bpm” is surer than a bare one, and wins', () => {
  expect(read('loop 140 96bpm.wav')).toMatchObject({ bpm: 96 });
  expect(read('loop 96bpm.wav').sure!).toBeGreaterThan(read('loop 96.wav').sure!);
  expect(read('loop 96.wav').sure!).toBeGreaterThan(read('96 loop.wav').sure!);
});

test.each([
  ['Puppet March 3-4 96 bpm.wav', { beatsPerBar: 3, beatUnit: 4 }],
  ['Jig in 6-8.wav', { beatsPerBar: 6, beatUnit: 8 }],
])('%s says its meter', (name, meter) => {
  expect(readName(name).find(({ property }) => property === 'meter')?.value).toEqual(meter);
});

test.each(['Take 3-12.wav', '2024-4-8 rehearsal.wav', 'Act 1-2.wav', 'Loop 13-4.wav'])(
  '%s says none',
  (name) => {
    expect(readName(name).find(({ property }) => property === 'meter')).toBeUndefined();
  },
);

test('folders speak where the name is silent, in plain words, and are believed less', () => {
  const said = readNameAndFolder('Brush.wav', 'Pellworth/92 bpm in A minor/1923');
  expect(said.map(({ property, value }) => [property, value])).toEqual([
    ['tempo', 92],
    ['key', { tonic: 9, mode: 'minor' }],
  ]);
  expect(said[0].sureness).toBeLessThan(0.6);
  expect(said[0].detail).toContain('folder “92 bpm in A minor”');
  const own = readNameAndFolder('Brush 101 bpm.wav', '92 bpm');
  expect(own.map(({ value }) => value)).toEqual([101]);
  expect(readNameAndFolder('Brush.wav', 'Loops 140/1984')).toEqual([]);
});

test('part, take and piece', () => {
  expect(readPart('Night Parade - 3 Chords Cm 118bpm.wav')).toEqual({
    part: 'chords',
    take: null,
    piece: ['night', 'parade'],
  });
  expect(readPart('Full Mix take 7.aiff')).toEqual({ part: 'full mix', take: 7, piece: [] });
});

test.each(['Prod P070.wav', 'Prod P071 drums.wav', 'S043-pressed.wav'])(
  '%s is numbered, not timed',
  (name) => {
    expect(readName(name).filter(({ property }) => property === 'tempo')).toEqual([]);
  },
);
