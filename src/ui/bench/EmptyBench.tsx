import Link from 'next/link';

export function EmptyBench() {
  return (
    <div className="mx-auto max-w-md p-16 text-center">
      <h1 className="text-lg font-semibold">No sample is open.</h1>
      <p className="mt-2 text-ink-soft">
        Open a sample from the{' '}
        <Link href="/intake" className="underline">
          Intake
        </Link>{' '}
        with Enter or by pressing its name.
      </p>
    </div>
  );
}
