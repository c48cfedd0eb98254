import { hangingWords } from './hanging';

test.each([
  [{ made: 0, blends: 0, packs: 0 }, 1, ''],
  [{ made: 1, blends: 0, packs: 0 }, 1, ' 1 rendered from it stays.'],
  [{ made: 3, blends: 0, packs: 0 }, 4, ' 3 rendered from them stay.'],
  [{ made: 0, blends: 1, packs: 0 }, 1, ' A blend holds it.'],
  [{ made: 2, blends: 2, packs: 0 }, 7, ' 2 rendered from them stay. 2 blends hold some of them.'],
  [{ made: 0, blends: 1, packs: 1 }, 1, ' A blend holds it. A pack holds it.'],
])('%j of %i: “%s”', (hanging, count, words) => expect(hangingWords(hanging, count)).toBe(words));
