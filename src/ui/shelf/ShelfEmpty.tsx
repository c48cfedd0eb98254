import Link from 'next/link';
import { Awaited, Empty } from '../kit/States';

interface Props {
  list: { isPending: boolean; error: Error | null };
  /** Nothing narrows the Shelf. */
  isWhole: boolean;
}

/** What stands in the place of rows where there are none. */
export function ShelfEmpty({ list, isWhole }: Props) {
  if (list.isPending || list.error) return <Awaited of={list} what="samples" />;
  if (!isWhole) return <Empty>No saved sample matches this search.</Empty>;
  return (
    <Empty>
      The Shelf is empty. Check a sample on the Bench and save it, or look at the{' '}
      <Link href="/intake" className="underline">
        Intake
      </Link>{' '}
      first.
    </Empty>
  );
}
