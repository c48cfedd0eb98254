import { interfaceTexts } from '../../scripts/lib/interfaceTexts';
import { refusedTexts } from '../../scripts/lib/terms';

// What stands in contract are codes; their words are in words/.
const texts = interfaceTexts().filter(({ screen }) => screen !== 'contract');

test('the texts of all screens are read out of the source', () => {
  const screens = new Set(texts.map(({ screen }) => screen));
  for (const screen of ['intake', 'bench', 'shelf', 'blend', 'packs', 'settings', 'words', 'server'])
    expect(screens).toContain(screen);
  expect(texts.length).toBeGreaterThan(2000);
});

test('every action and thing has one name, and none of those that it had before', () => {
  const refused = texts.flatMap(({ path, line, text }) =>
    refusedTexts([text]).map(({ name }) => `${path}:${line}  “${text}”: say ${name}`),
  );
  expect(refused).toEqual([]);
});

test.each([
  ['Take out', 'Remove'],
  ['What comes out …', 'Export'],
  ['goes round', 'Loop'],
  ['those surer than, %', 'Confidence'],
  ['Kept places', 'Folders'],
])('“%s” is refused: it is %s', (text, name) => {
  expect(refusedTexts([text]).map((refused) => refused.name)).toContain(name);
});
