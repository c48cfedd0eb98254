import createPffft from '@echogarden/pffft-wasm/simd';

const pffft = await createPffft();

/**
 * Real-input FFT by PFFFT (Pommier's FFTPACK with SIMD) in WebAssembly: about six times faster than
 * butterflies in JavaScript (see the benchmark).
 */
export interface RealFft {
  readonly size: number;
  /** Fill this with `size` samples before `forward`. */
  readonly input: Float32Array;
  /**
   * Transforms `input`. Returns the spectrum as [re 0, re N/2, re 1, im 1, re 2, im 2 …]: a view that is
   * good until the next transform of this size.
   */
  forward(): Float32Array;
  /** Fill this with a spectrum in that order before `inverse`. */
  readonly spectrum: Float32Array;
  /** The samples whose spectrum stands in `spectrum`: a view that is good until the next transform of this size. */
  inverse(): Float32Array;
  /** The same, `size` times as large: for whoever multiplies them anyway. */
  inverseTimesSize(): Float32Array;
}

/** How long a frame is at a rate that has so many samples at 44.1 kHz: about as many seconds, and as good a power of two. */
export const frameAt = (rate: number, samples: number): number =>
  samples * 2 ** Math.max(-2, Math.round(Math.log2(rate / 44_100)));

const cache = new Map<number, RealFft>();

/** Returns the transform for a power-of-two size of at least 32. Throws RangeError for others. */
export function realFft(size: number): RealFft {
  if (size < 32 || (size & (size - 1)) !== 0)
    throw new RangeError(`FFT size ${size} is not a power of two of at least 32`);
  let made = cache.get(size);
  if (!made) cache.set(size, (made = makeRealFft(size)));
  return made;
}

function makeRealFft(size: number): RealFft {
  const setup = pffft._pffft_new_setup(size, 0);
  const bytes = size * Float32Array.BYTES_PER_ELEMENT;
  const [input, output, work] = [0, 0, 0].map(() => pffft._pffft_aligned_malloc(bytes));
  // The module's memory may be replaced when it grows, and with it all views.
  const view = (address: number) => pffft.HEAPF32.subarray(address / 4, address / 4 + size);
  let inputView = view(input);
  let outputView = view(output);
  return {
    size,
    get input() {
      if (inputView.length === 0) inputView = view(input);
      return inputView;
    },
    forward() {
      pffft._pffft_transform_ordered(setup, input, output, work, 0);
      if (outputView.length === 0) outputView = view(output);
      return outputView;
    },
    get spectrum() {
      if (outputView.length === 0) outputView = view(output);
      return outputView;
    },
    inverseTimesSize() {
      pffft._pffft_transform_ordered(setup, output, input, work, 1);
      if (inputView.length === 0) inputView = view(input);
      return inputView;
    },
    inverse() {
      const samples = this.inverseTimesSize();
      const scale = 1 / size;
      for (let i = 0; i < size; i++) samples[i] *= scale;
      return samples;
    },
  };
}

/** Periodic Hann window of `size` points. */
export function hannWindow(size: number): Float32Array {
  return Float32Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/**
 * Linear autocorrelation of a sequence for lags 0..maxLag, by FFT with zero padding (Wiener–Khinchin).
 * Not normalised by overlap.
 */
export function autocorrelation(x: Float32Array | Float64Array, maxLag: number): Float64Array {
  let size = 32;
  while (size < x.length + maxLag + 1) size *= 2;
  const fft = realFft(size);
  const { input } = fft;
  input.fill(0);
  input.set(x);
  const spectrum = fft.forward();
  const power = new Float32Array(size);
  power[0] = spectrum[0] ** 2;
  power[size / 2] = spectrum[1] ** 2;
  for (let k = 1; k < size / 2; k++) {
    power[k] = power[size - k] = spectrum[2 * k] ** 2 + spectrum[2 * k + 1] ** 2;
  }
  // The power spectrum is real and even: its forward transform is its inverse up to a scale.
  input.set(power);
  const result = fft.forward();
  const out = new Float64Array(maxLag + 1);
  out[0] = result[0] / size;
  for (let lag = 1; lag <= maxLag && lag < size / 2; lag++) out[lag] = result[2 * lag] / size;
  return out;
}
