import { chords, drums, monoOf } from '../../../tests/support/music';
import { ANALYSIS_RATE } from '../rhythm/onsetFeatures';
import { resample } from '../signal/resample';
import { measureAudio } from './measure';
import { shiftTimes } from './shiftTimes';

test('times move, lengths and tempi stay', () => {
  const measured = measureAudio(
    resample(monoOf(drums({ bpm: 100, bars: 4, one: 0.1 })), 44100, ANALYSIS_RATE),
  );
  const shifted = shiftTimes(measured, 12.5);
  expect(shifted.theOne).toBeCloseTo(measured.theOne! + 12.5, 9);
  expect(shifted.beats.map((time) => time - 12.5)).toEqual(
    measured.beats.map((time) => expect.closeTo(time, 9)),
  );
  expect(shifted.loop!.start - measured.loop!.start).toBeCloseTo(12.5, 9);
  expect(shifted.loop!.end - measured.loop!.end).toBeCloseTo(12.5, 9);
  expect(shifted.onsets[3].time - measured.onsets[3].time).toBeCloseTo(12.5, 9);
  expect({ ...shifted.tempo }).toEqual({ ...measured.tempo });
  expect(shifted.barTempiBpm).toEqual(measured.barTempiBpm);
});

test('what is null stays null', () => {
  const silence = measureAudio(new Float32Array(ANALYSIS_RATE));
  expect(shiftTimes(silence, 3)).toMatchObject({ theOne: null, loop: null, beats: [] });
});

test('the measurement that is shifted is left alone', () => {
  const measured = measureAudio(resample(monoOf(chords(60, 'major')), 44100, ANALYSIS_RATE));
  const before = structuredClone(measured);
  shiftTimes(measured, 1);
  expect(measured).toEqual(before);
});
