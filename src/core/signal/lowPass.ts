import { frameAt, realFft, type RealFft } from './fft';
import { arrangeLoop } from './layRound';

/** Frames that are filtered at once, and how far the kernel reaches to each side, at 44.1 kHz. */
const BLOCK = 8192;
const REACH = 1024;

/** How much of a frequency lies below a band, Hz, in which that fades out: 1 … 0, a raised cosine over the logarithm. */
export function shareBelow([from, to]: readonly [number, number], hz: number): number {
  const place = Math.log2(Math.max(1, hz) / from) / Math.log2(to / from);
  return 0.5 + 0.5 * Math.cos(Math.PI * Math.max(0, Math.min(1, place)));
}

/**
 * What of a sound that loops lies below a band, Hz, in which it fades out (`shareBelow`): linear phase, by overlap-save in the
 * frequency domain. The filter is cut to 2 × 1024 taps at 44.1 kHz by a Hann
 * window.
 */
export function lowPassedLoop(
  channel: Float32Array,
  rate: number,
  band: readonly [number, number],
): Float32Array {
  const [block, reach] = [frameAt(rate, BLOCK), frameAt(rate, REACH)];
  const fft = realFft(block);
  const response = responseOf(fft, reach, (hz) => shareBelow(band, hz), rate);
  const size = channel.length;
  const out = new Float32Array(size);
  const step = block - 2 * reach;
  for (let at = 0; at < size; at += step) {
    arrangeLoop(channel, at - reach, fft.input);
    const bins = fft.forward();
    const { spectrum } = fft;
    for (let k = 0; k < block; k++) spectrum[k] = bins[k] * response[k];
    const samples = fft.inverse();
    out.set(samples.subarray(reach, reach + Math.min(step, size - at)), at);
  }
  return out;
}

/** What each number of a spectrum is multiplied by: of a kernel that reaches no further than `reach` to each side. */
function responseOf(fft: RealFft, reach: number, gainAt: (hz: number) => number, rate: number): Float32Array {
  const { size } = fft;
  const { spectrum } = fft;
  spectrum.fill(0);
  spectrum[0] = gainAt(0);
  for (let k = 1; k < size / 2; k++) spectrum[2 * k] = gainAt((k * rate) / size);
  const kernel = fft.inverse().slice();
  const { input } = fft;
  input.fill(0);
  for (let i = -reach + 1; i < reach; i++) {
    const at = (i + size) % size;
    input[at] = kernel[at] * (0.5 + 0.5 * Math.cos((Math.PI * i) / reach));
  }
  const bins = fft.forward();
  // Zero phase: all of it is real.
  const gains = new Float32Array(size);
  gains[0] = bins[0];
  gains[1] = bins[1];
  for (let k = 1; k < size / 2; k++) gains[2 * k] = gains[2 * k + 1] = bins[2 * k];
  return gains;
}
