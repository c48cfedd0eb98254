import type { SamplePage } from '@/contract/shelfQuery';

/** Says which words of a search stand nowhere, and what was looked for instead. */
export function InsteadOf({ words }: { words: SamplePage['insteadOf'] }) {
  return words.map(({ typed, found }) => (
    <span key={typed} className="ml-3 text-look">
      “{typed}” is in no name or tag; showing <b>“{found}”</b>
    </span>
  ));
}
