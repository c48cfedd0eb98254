import { heardStems } from './stemMix';

const stem = (sampleId: string, mute = false, solo = false) => ({ sampleId, mute, solo });

test('all stems are heard but the muted ones; solo goes before mute', () => {
  expect(heardStems([stem('a'), stem('b', true), stem('c')])).toEqual(['a', 'c']);
  expect(heardStems([stem('a'), stem('b', true, true), stem('c')])).toEqual(['b']);
  expect(heardStems([stem('a', true)])).toEqual([]);
});
