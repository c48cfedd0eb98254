import { keyText } from '@/ui/pieces/figures';
import { readName } from './nameReading';

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
