/** The pictures of a sample on the Bench, of which one is shown. */
export const MAIN_VIEWS = ['fold', 'line', 'seam', 'key', 'cut'] as const;
export type MainView = (typeof MAIN_VIEWS)[number];
