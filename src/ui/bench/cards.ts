/** The cards beside the picture, of which one is shown. */
export const CARDS = ['Readings', 'Grid', 'Proof', 'Tags', 'History'] as const;
export type Card = (typeof CARDS)[number];
