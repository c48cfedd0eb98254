/** What the audio thread answers: the frame of its clock that is played at `time` on the context's. */
export interface FromEngine {
  /** Which start the report belongs to. */
  run: number;
  position: number;
  time: number;
  playing: boolean;
}
