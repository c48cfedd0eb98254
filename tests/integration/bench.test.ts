import { unpackTraces } from '@/core/traces/traces';
import { readEntry } from '@/server/entry';
import { proveByFigures } from '@/server/change/proofs';
import { curatorNamed } from '@/server/curators';
import { tracesOfSample } from '@/server/readTraces';
import { changeSettings, settingsNow } from '@/server/settings';
import { closeDatabase } from '@/store/database';
import { drumFile } from '../support/files';
import { ask, bring, emptyLibrary, measureAll, measuredLoop, prove, settle, step } from '../support/library';

beforeEach(emptyLibrary);
afterAll(closeDatabase);

test('what the Bench draws is there as soon as a sample is measured', async () => {
  const sampleId = await measuredLoop();
  const { measurement } = await readEntry(sampleId);
  const traces = unpackTraces(await tracesOfSample(sampleId));
  expect(traces.durationSeconds).toBe(measurement!.durationSeconds);
  expect(traces.strength.bands).toHaveLength(3);
  const steps = traces.strength.bands[0].length;
  expect(Math.abs(steps / traces.strength.rate - traces.durationSeconds)).toBeLessThan(0.02);
  await expect(tracesOfSample('00000000-0000-4000-8000-000000000000')).rejects.toThrow('no such sample');
});

test('pins and the loop are kept, undone and redone exactly', async () => {
  const sampleId = await measuredLoop();
  const before = await readEntry(sampleId);
  const pins = [
    { beat: 0, time: 0.2 },
    { beat: 6.5, time: 4.123456789 },
  ];
  const loop = { bar: 2, bars: 2, shiftSeconds: -0.0012 };
  const changed = await settle(sampleId, { base: before.sequence, words: 'pinned', patch: { pins, loop } });
  expect(changed.settled).toMatchObject({ pins, loop });
  expect((await step(sampleId, 'undo')).settled).toEqual(before.settled);
  expect((await step(sampleId, 'redo')).settled).toEqual(changed.settled);
});

test('any earlier state can be gone back to, as a change of its own', async () => {
  const sampleId = await measuredLoop();
  const first = await readEntry(sampleId);
  const noted = await settle(sampleId, { base: first.sequence, words: 'noted', patch: { note: 'wet' } });
  const back = await ask(sampleId, noted.sequence, { do: 'return', sequence: first.sequence! });
  expect(back.settled).toEqual(first.settled);
  expect(back).toMatchObject({
    undo: { words: 'restored “measured”', settled: noted.settled },
    sequence: noted.sequence! + 1,
  });
  expect((await step(sampleId, 'undo')).settled.note).toBe('wet');
  await expect(ask(sampleId, back.sequence! - 1, { do: 'return', sequence: 99 })).rejects.toThrow(
    'no such earlier',
  );
});

test('figures prove what fits, and say what speaks against the rest', async () => {
  const fits = await measuredLoop();
  const { sampleId: leaning } = await bring('Leaning.wav', drumFile({ bpm: 110, bars: 8, seed: 61 }));
  const { sampleId: silent } = await bring('Silent.wav', drumFile({ bpm: 110, bars: 0, tail: 2, seed: 62 }));
  await measureAll();
  const { settled, sequence } = await readEntry(leaning);
  await settle(leaning, {
    base: sequence,
    words: 'too fast',
    patch: { grid: { ...settled.grid!, tempoBpm: settled.grid!.tempoBpm + 0.8 } },
  });
  const { curatorId } = await curatorNamed({ name: 'Ada Wilmot' });
  const result = await proveByFigures({ sampleIds: [fits, leaning, silent] }, curatorId);
  expect(result.proved).toBe(1);
  expect(result.refused).toEqual([
    { sampleId: leaning, name: 'Leaning.wav', why: expect.stringContaining('The tempo is off') },
    { sampleId: silent, name: 'Silent.wav', why: 'It has no grid.' },
  ]);
  const { proofs, summary } = await readEntry(fits);
  expect(summary.standing).toBe('proved');
  expect(proofs[0]).toMatchObject({ verdict: 'on', byEar: false, signedBy: 'Ada Wilmot', current: true });
  await expect(proveByFigures({ sampleIds: [] }, curatorId)).rejects.toThrow();
});

test('long and moving files are listened to at more than three places', async () => {
  const { sampleId } = await bring('Long.wav', drumFile({ bpm: 120, bars: 100, seed: 63 }));
  await measureAll();
  const entry = await readEntry(sampleId);
  const proved = await prove(sampleId, {
    base: entry.sequence,
    verdict: 'on',
    signedBy: 'Odo Finch',
    heard: ['beginning', 'middle', 'end'].map((label) => ({ label, verdict: 'on' })),
  });
  // 200 seconds: two more than three.
  expect(proved.proofs[0].places.map(({ label }) => label)).toEqual([
    'beginning',
    'place 2',
    'middle',
    'place 4',
    'end',
  ]);
  expect(proved.proofs[0].places.filter(({ heard }) => heard)).toHaveLength(3);
});

test('the library’s custom range holds for new samples, and one of their own goes before it', async () => {
  expect(await settingsNow()).toEqual({ tempoRange: null, binDays: 30, learnsTempi: true });
  await changeSettings({ tempoRange: { low: 50, high: 80 } });
  const { sampleId } = await bring('Ranged.wav', drumFile({ bpm: 140, bars: 8, seed: 64 }));
  await measureAll();
  const { settled } = await readEntry(sampleId);
  expect(settled.grid!.tempoBpm).toBeGreaterThan(50);
  expect(settled.grid!.tempoBpm).toBeLessThan(80);
  await expect(changeSettings({ tempoRange: { low: 80, high: 50 } })).rejects.toThrow('upper end');
  await changeSettings({ tempoRange: null });
});
