const RULES = new Intl.PluralRules('en');
const FIGURES = new Intl.NumberFormat('en');

/** The form of a word that goes with a number: "bar" with 1, "bars" with any other. */
export const plural = (count: number, one: string, other = `${one}s`): string =>
  RULES.select(count) === 'one' ? one : other;

/** "1 sample", "1,204 samples" */
export const counted = (count: number, one: string, other?: string): string =>
  `${FIGURES.format(count)} ${plural(count, one, other)}`;
