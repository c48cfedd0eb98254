import { stemAndEnding, withEnding } from './endings';

test.each([
  ['Rope 88.4 bpm.WAV', 'Rope 88.4 bpm', '.WAV'],
  ['Rope 88.42', 'Rope 88.42', ''],
  ['Vol. of ropes', 'Vol. of ropes', ''],
  ['.wav', '.wav', ''],
  ['a.wav.flac', 'a.wav', '.flac'],
])('“%s” is “%s” and “%s”', (name, stem, ending) => expect(stemAndEnding(name)).toEqual([stem, ending]));

test.each([
  ['Rope', 'wav', 'Rope.wav'],
  ['Rope 88.42', 'ogg-vorbis', 'Rope 88.42.ogg'],
  ['Rope.aif', 'aiff', 'Rope.aif'],
  ['Rope', null, 'Rope'],
  ['Rope', 'unheard of', 'Rope'],
])('“%s” of %s goes out as “%s”', (name, format, out) => expect(withEnding(name, format)).toBe(out));
