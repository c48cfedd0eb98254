import { soundings } from './stemGains';

const members = ['a', 'b', 'c'].map((sampleId) => ({ sampleId, durationSeconds: 2 }));
const heard = (gains: Parameters<typeof soundings>[1]) =>
  soundings(members, gains)
    .filter(({ hearing }) => !hearing.muted)
    .map(({ sampleId }) => sampleId);

test('all stems are heard but the muted ones; solo goes before mute', () => {
  expect(heard({})).toEqual(['a', 'b', 'c']);
  expect(heard({ b: { mute: true, solo: false } })).toEqual(['a', 'c']);
  expect(heard({ b: { mute: true, solo: true }, a: { mute: false, solo: false } })).toEqual(['b']);
});
