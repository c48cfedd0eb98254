/** Turns positions in beats into seconds, for writing pieces down. */
export interface Score {
  /** Time of a position counted in felt beats from the one. */
  at(beat: number): number;
  /** Length in seconds of a number of beats that begin at a position. */
  span(beat: number, beats: number): number;
}

/** A steady tempo; `swing` moves the middle of each beat (0.5 is straight). `one` is the time of beat 0. */
export function steadyScore(bpm: number, one = 0, swing = 0.5): Score {
  const period = 60 / bpm;
  const at = (beat: number) => {
    const whole = Math.floor(beat);
    const part = beat - whole;
    const bent = part < 0.5 ? part * 2 * swing : swing + (part - 0.5) * 2 * (1 - swing);
    return one + (whole + bent) * period;
  };
  return { at, span: (beat, beats) => at(beat + beats) - at(beat) };
}

/** A tempo that wanders as given by `bpmAt(beat)`; beats are straight inside. Also lists its beat times. */
export function movingScore(
  bpmAt: (beat: number) => number,
  one: number,
  beats: number,
): Score & { beatTimes: number[] } {
  const beatTimes = [one];
  for (let beat = 0; beat < beats; beat++) beatTimes.push(beatTimes[beat] + 60 / bpmAt(beat));
  const at = (beat: number) => {
    const i = Math.max(0, Math.min(beats - 1, Math.floor(beat)));
    return beatTimes[i] + (beat - i) * (beatTimes[i + 1] - beatTimes[i]);
  };
  return { at, span: (beat, count) => at(beat + count) - at(beat), beatTimes };
}
