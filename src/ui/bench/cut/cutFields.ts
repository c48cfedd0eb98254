/** Fields of the cut that a button leads to, by their labels. */
export const CUT_FIELDS = { tempo: 'BPM', transpose: 'Semitones', length: 'Total length' } as const;

/** Where the settings of a render stand. */
export const CUT_SETTINGS = 'cut-settings';

/** Puts the keyboard into one of the fields. */
export function typeInto(field: keyof typeof CUT_FIELDS) {
  const input = document.querySelector<HTMLInputElement>(
    `#${CUT_SETTINGS} input[aria-label="${CUT_FIELDS[field]}"]`,
  );
  input?.scrollIntoView({ block: 'nearest' });
  input?.focus();
  input?.select();
}

/** Numbers of bars that have a button. */
export const BAR_CHOICES = [1, 2, 4, 8, 16] as const;
