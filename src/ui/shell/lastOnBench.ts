let last: string | null = null;

/** The sample that was on the Bench last, for coming back to it from the bar. */
export const lastOnBench = () => last;
export const rememberOnBench = (sampleId: string) => {
  last = sampleId;
};
