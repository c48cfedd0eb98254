import { bytesInWords } from './bytes';

test.each([
  [0, '0 MB'],
  [3_440_000, '3.4 MB'],
  [999_000_000, '999 MB'],
  [12_340_000_000, '12.3 GB'],
  [20_000_000_000_000, '20 TB'],
])('%d bytes are %s', (bytes, words) => expect(bytesInWords(bytes)).toBe(words));
