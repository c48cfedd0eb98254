import { gridBeats, lengthLattices, makeLattices, medianBpm } from './lattice';
import { FRAME_RATE } from './onsetFeatures';
import { tempoCandidates } from './tempoCandidates';
import { periodicity } from './tempogram';

const anything = () => true;

describe('beats of a steady grid', () => {
  test('lie within the recording, through the anchor', () => {
    expect(Array.from(gridBeats(1.2, 0.5, 3))).toEqual(
      [0.2, 0.7, 1.2, 1.7, 2.2, 2.7].map((t) => expect.closeTo(t, 9)),
    );
  });
  test('may begin a hair before the file', () => {
    expect(gridBeats(-0.01, 0.5, 2)[0]).toBeCloseTo(-0.01, 9);
    expect(gridBeats(-0.1, 0.5, 2)[0]).toBeCloseTo(0.4, 9);
  });
});

test('lattices from the length fill the file with a whole number of beats', () => {
  const lattices = lengthLattices(8, anything);
  expect(lattices.some(({ bpm }) => Math.abs(bpm - 120) < 1e-9)).toBe(true);
  for (const { beats, bpm, origin } of lattices) {
    expect(origin).toBe('length');
    expect((beats.length * 60) / bpm).toBeCloseTo(8, 9);
    expect(beats[0]).toBe(0);
  }
});

test('lattices from the length keep to what is allowed', () => {
  for (const { bpm } of lengthLattices(8, (tempo) => tempo > 100 && tempo < 130))
    expect(bpm > 100 && bpm < 130).toBe(true);
});

describe('lattices from hits', () => {
  const bpm = 96.4;
  const one = 0.37;
  const seconds = 16;
  const strength = new Float32Array(seconds * FRAME_RATE).fill(0.1);
  const onsets: { time: number; strength: number }[] = [];
  for (let k = 0; one + (k * 60) / bpm < seconds - 0.1; k++) {
    const time = one + (k * 60) / bpm;
    onsets.push({ time, strength: 8 });
    strength[Math.round(time * FRAME_RATE)] = 8;
  }
  const periodic = periodicity(strength);
  const made = (allowed = anything as (tempo: number) => boolean) =>
    makeLattices(strength, onsets, periodic, tempoCandidates(periodic, 5), seconds, allowed);

  test('hold the true grid, to a hundredth of a BPM and two milliseconds', () => {
    const right = made().filter(({ steady, bpm: found }) => steady && Math.abs(found - bpm) < 0.01);
    expect(right.length).toBeGreaterThan(0);
    expect(right.some(({ beats }) => beats.some((beat) => Math.abs(beat - one) < 0.002))).toBe(true);
  });

  test('hold half and double of it, and what follows a player', () => {
    const lattices = made();
    for (const ratio of [0.5, 2])
      expect(
        lattices.some(({ steady, bpm: found }) => steady && Math.abs(found / (bpm * ratio) - 1) < 0.001),
      ).toBe(true);
    const player = lattices.filter(({ origin }) => origin === 'player');
    expect(player.some(({ bpm: found }) => Math.abs(found / bpm - 1) < 0.02)).toBe(true);
  });

  test('are no two the same grid', () => {
    const steady = made().filter((lattice) => lattice.steady);
    for (const [i, a] of steady.entries())
      for (const b of steady.slice(i + 1)) {
        if (Math.abs(a.bpm / b.bpm - 1) > 4e-4) continue;
        const period = 60 / a.bpm;
        const off = (a.beats[0] - b.beats[0]) / period;
        expect(Math.abs(off - Math.round(off)) * period).toBeGreaterThan(0.004);
      }
  });

  test('keep to what is allowed', () => {
    for (const lattice of made((tempo) => tempo >= 150 && tempo <= 250))
      expect(lattice.bpm >= 145 && lattice.bpm <= 255).toBe(true);
  });
});

test('the median tempo is what most bars have', () => {
  const beats = [0, 0.5, 1, 1.5, 2, 2.4, 2.8];
  expect(medianBpm(beats)).toBeCloseTo(120, 9);
});
