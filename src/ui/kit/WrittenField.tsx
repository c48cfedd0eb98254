'use client';
import { Labelled, TextField, type LabelPlace } from './Field';
import { useTyped } from './useTyped';

interface Props {
  label: string;
  place?: LabelPlace;
  value: string;
  maxLength?: number;
  className?: string;
  /** An empty text is refused: the field goes back to its value. */
  isNeeded?: boolean;
  onSet: (text: string) => void;
}

/** A line of text, taken when the field is left or Enter is pressed; Escape gives it up. */
export function WrittenField({ label, place, value, maxLength = 300, className, isNeeded, onSet }: Props) {
  const { field } = useTyped(value, (typed) => {
    const text = typed.trim();
    if (text !== value && (text || !isNeeded)) onSet(text);
  });
  return (
    <Labelled label={label} place={place}>
      <TextField aria-label={label} className={className} maxLength={maxLength} {...field} />
    </Labelled>
  );
}
