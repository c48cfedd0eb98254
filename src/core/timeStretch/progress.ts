/** How far a fitting is, told before each step of it. */
export interface Progress {
  /** Frames of the result that are made, from its beginning. */
  made: number;
  /** Frames of the source, from its beginning, that the next step reads. */
  needs: number;
}
