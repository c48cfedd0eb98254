import { claimsOf, frameLengths, mpegFrames, type MpegClaims } from './mpegFrames';
import { mostLeft, reservoirOf } from './mpegReservoir';
import type { ByteWindow } from './window';

/** Frames on each side of a gap that say how long those were that stood there. */
const AROUND = 12;
/** Streams whose frames differ by no more than a byte of padding have one bit rate. */
const PADDING = 1;
/** A frame alone is not longer than so many usual ones. */
const ALONE = 1.75;
/** What the first frame claims is believed where it is within this factor of what the bytes say, and as many frames more. */
const CREDIBLE = 1.6;
const FEW = 3;

interface Gap {
  /** How many frames of sound stand before it. */
  index: number;
  /** Bytes in it that are no frames. */
  passed: number;
  /** How many frames stood there by its bytes; a fraction. */
  estimate: number;
  /** What is before it and behind it fit together: nothing that belongs there is missing. */
  goesOn: boolean;
}

/** Frames that are missing before a frame. */
export interface FramesLost {
  /** How many frames of sound stand before them. */
  index: number;
  count: number;
}

/**
 * How many frames are missing in a damaged stream, and before which, read once from end to end. The bytes of a gap are
 * held against the frames around it: where the bit rate changes, a mean of the whole says little. What the first frame claims of
 * the whole makes it exact where that can be believed, also where bytes were cut out. Where they were cut out so that no gap is left, the
 * bytes that frames share tell the place.
 */
export async function framesLost(window: ByteWindow): Promise<FramesLost[]> {
  const gaps: Gap[] = [];
  const before: number[] = [];
  let claims: MpegClaims | null = null;
  let samples = 0;
  let count = 0;
  /** The last gap, and the lengths of frames around it. */
  let open: { gap: Gap; lengths: number[]; left: number; alone: boolean } | null = null;
  let left: number | null = null;
  /** Frames whose data would begin before what is left to them. */
  const breaks: number[] = [];
  const close = () => {
    if (open) open.gap.estimate = estimateOf(open.gap.passed, open.lengths, open.alone);
    open = null;
  };
  const stream = mpegFrames(window);
  let next = await stream.next();
  for (; !next.done; next = await stream.next()) {
    const { header, passed } = next.value;
    if (count === 0 && !claims) {
      claims = claimsOf(next.value);
      ({ samples } = header);
      if (claims) continue;
    }
    const reservoir = reservoirOf(next.value);
    if (passed > 0 && count > 0) {
      close();
      // By chance they fit together once in some hundred times; nothing is said by an empty reservoir.
      const goesOn = left !== null && left > 0 && reservoir.begins === left;
      const gap = { index: count, passed, estimate: 0, goesOn };
      gaps.push(gap);
      open = { gap, lengths: [...before], left: AROUND, alone: frameLengths(header).has(passed) };
    } else if (left !== null && reservoir.begins > left) breaks.push(count);
    left = Math.max(0, Math.min(mostLeft(next.value), reservoir.leaves));
    if (open) {
      open.lengths.push(header.length);
      if (--open.left === 0) close();
    }
    before.push(header.length);
    if (before.length > AROUND) before.shift();
    count++;
  }
  close();
  const isWhole = next.value === 0;
  const believed = claims && !claims.isDamaged ? claims.frames : null;
  const claimed = believed === null ? null : believed / samples - count;
  // Encoders other than LAME disagree whether the frame that holds the claims is one of them.
  const isExact = claims?.musicCrc != null;
  if (gaps.length === 0) {
    const isCut = isExact && isWhole && claimed !== null && claimed > 0 && Number.isInteger(claimed);
    return isCut && breaks.length === 1 ? [{ index: breaks[0], count: claimed }] : [];
  }
  const counts = shared(gaps, claimed, { isExact, isWhole });
  return gaps.map(({ index }, i) => ({ index, count: counts[i] }));
}

function estimateOf(passed: number, lengths: readonly number[], alone: boolean): number {
  const mean = lengths.reduce((sum, length) => sum + length, 0) / lengths.length;
  const isSteady = Math.max(...lengths) - Math.min(...lengths) <= PADDING;
  return !isSteady && alone && passed < ALONE * mean ? 1 : passed / mean;
}

/** Whole frames for each gap: as many as are claimed to be missing, where that is credible, by the largest rests. */
function shared(
  gaps: readonly Gap[],
  claimed: number | null,
  { isExact, isWhole }: { isExact: boolean; isWhole: boolean },
): number[] {
  // Bytes that are no frame were one, unless those around them say that nothing is missing.
  const rounded = gaps.map(({ estimate, goesOn }) => Math.max(Math.round(estimate), goesOn ? 0 : 1));
  const estimated = gaps.reduce((sum, { estimate }) => sum + estimate, 0);
  if (claimed === null || !Number.isInteger(claimed) || claimed <= 0) return rounded;
  if (!isExact && Math.abs(claimed - estimated) <= 1) return rounded;
  const isNear = claimed <= CREDIBLE * estimated + FEW && estimated <= CREDIBLE * claimed + FEW;
  // More than the bytes say were cut out, and it is known where: at the only place that is broken.
  if (!isNear && !(gaps.length === 1 && isWhole && claimed > estimated)) return rounded;
  const wanted = gaps.map(({ estimate }) => (claimed * estimate) / estimated);
  const counts = wanted.map(Math.floor);
  const rests = wanted.map((value, i) => ({ i, rest: value - counts[i] })).sort((a, b) => b.rest - a.rest);
  const left = claimed - counts.reduce((sum, value) => sum + value, 0);
  for (const { i } of rests.slice(0, Math.round(left))) counts[i]++;
  return counts;
}
