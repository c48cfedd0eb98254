'use client';
import clsx from 'clsx';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { GUESSED, type ExpectedErrors, type Guessed } from '@/contract/errorsLeft';
import { errorsLeftWords } from '@/words/errorsLeft';
import { fetchErrorsLeft } from '../api/intake';
import { Button } from '../kit/Button';

interface Props {
  of: 'all' | 'saved';
  /** Which least certain ones are listed now. */
  listed?: Guessed | null;
  onList: (guessed: Guessed) => void;
  className?: string;
}

/** Of a few samples each row tells as much. */
const FEWEST = 10;
const isWorthTelling = ({ guesses, expected }: ExpectedErrors) => guesses >= FEWEST && expected >= 0.5;

/** How many measured tempi and keys are expected to be wrong, and the way to the least certain ones. */
export function ErrorsLeft({ of, listed = null, onList, className }: Props) {
  const { data } = useQuery({
    queryKey: ['errors left', of],
    queryFn: ({ signal }) => fetchErrorsLeft(of, signal),
    placeholderData: keepPreviousData,
  });
  const told = data ? GUESSED.filter((guessed) => isWorthTelling(data[guessed])) : [];
  if (!data || told.length === 0) return null;
  return (
    <section
      aria-label="Errors to expect"
      className={clsx('flex flex-wrap items-center gap-x-6 text-tiny text-ink-soft', className)}
    >
      {told.map((guessed) => (
        <span key={guessed} className="flex items-center gap-2">
          {errorsLeftWords(guessed, data[guessed])}
          <Button
            small
            pressed={listed === guessed}
            aria-label={`List the least certain ${guessed === 'tempo' ? 'tempi' : 'keys'}`}
            onClick={() => onList(guessed)}
          >
            List
          </Button>
        </span>
      ))}
    </section>
  );
}
