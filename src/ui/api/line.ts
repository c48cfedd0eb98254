import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';

const line = createStore(() => ({ isThere: true }));

/** Says whether Grento answers. */
export const noteLine = (isThere: boolean): void => {
  if (isThere !== line.getState().isThere) line.setState({ isThere });
};

/** Whether Grento answers, as far as the page knows. */
export const useLine = (): boolean => useStore(line, ({ isThere }) => isThere);
