import { useRef, useState, type ChangeEvent, type KeyboardEvent } from 'react';

/**
 * A field that is typed into and taken when it is left or Enter is pressed; Escape leaves it as it was. `shown`: what
 * stands in it while nobody types; `onDone` gets what was typed.
 */
export function useTyped(shown: string, onDone: (typed: string) => void) {
  const [typed, setTyped] = useState<string | null>(null);
  // Leaving the field is told before it is drawn again.
  const isGivenUp = useRef(false);
  return {
    field: {
      value: typed ?? shown,
      onChange: (event: ChangeEvent<HTMLInputElement>) => setTyped(event.target.value),
      onBlur: () => {
        if (typed !== null && !isGivenUp.current) onDone(typed);
        isGivenUp.current = false;
        setTyped(null);
      },
      onKeyDown: (event: KeyboardEvent<HTMLInputElement>) => {
        if (event.key === 'Escape') isGivenUp.current = true;
        if (event.key === 'Escape' || event.key === 'Enter') event.currentTarget.blur();
      },
    },
  };
}
