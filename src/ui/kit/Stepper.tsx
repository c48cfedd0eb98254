import clsx from 'clsx';
import { Button } from './Button';

interface Props {
  label: string;
  value: number;
  onStep: (by: 1 | -1) => void;
}

/** A number that goes up and down by one. */
export function Stepper({ label, value, onStep }: Props) {
  return (
    <span className="inline-flex items-center" role="group" aria-label={label}>
      <Button className="h-6 w-6 px-0" aria-label={`${label} less`} onClick={() => onStep(-1)}>
        −
      </Button>
      <b className={clsx('figures text-center', value < 100 ? 'w-8' : 'w-10')}>{value}</b>
      <Button className="h-6 w-6 px-0" aria-label={`${label} more`} onClick={() => onStep(1)}>
        +
      </Button>
    </span>
  );
}
