/**
 * What the WebAssembly transform is compared with. A real-input FFT in JavaScript: N real samples packed as N/2 complex ones, radix-4 butterflies after bit reversal
 * (Cooley & Tukey 1965; the packing is Sorensen et al. 1987). Tables are made once per size.
 */
export interface PlainFft {
  readonly size: number;
  /** `input` has `size` samples; `re` and `im` get `size / 2 + 1` bins. The input is left as it is. */
  forward(input: Float32Array | Float64Array, re: Float64Array, im: Float64Array): void;
}

/** The transform for a power-of-two size of at least 16. */
export function plainFft(size: number): PlainFft {
  const half = size >> 1;
  const bits = Math.log2(half);
  const reversed = new Uint32Array(half);
  for (let i = 0; i < half; i++) reversed[i] = (reversed[i >> 1] >> 1) | ((i & 1) << (bits - 1));
  const cos = new Float64Array(size);
  const sin = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    cos[i] = Math.cos((2 * Math.PI * i) / size);
    sin[i] = Math.sin((2 * Math.PI * i) / size);
  }
  const zr = new Float64Array(half);
  const zi = new Float64Array(half);

  function complexForward() {
    let length = 1;
    if (bits % 2 === 1) {
      for (let i = 0; i < half; i += 2) {
        const ar = zr[i];
        const ai = zi[i];
        zr[i] = ar + zr[i + 1];
        zi[i] = ai + zi[i + 1];
        zr[i + 1] = ar - zr[i + 1];
        zi[i + 1] = ai - zi[i + 1];
      }
      length = 2;
    }
    for (; length < half; length *= 4) {
      const stride = size / (length * 4);
      for (let start = 0; start < half; start += length * 4) {
        for (let k = 0; k < length; k++) {
          const i0 = start + k;
          const i1 = i0 + length;
          const i2 = i1 + length;
          const i3 = i2 + length;
          const t1 = k * stride;
          const t2 = t1 * 2;
          const t3 = t1 * 3;
          // After bit reversal the second block holds the input's even half: it takes the double twiddle.
          const c1 = cos[t2];
          const s1 = sin[t2];
          const br = zr[i1] * c1 + zi[i1] * s1;
          const bi = zi[i1] * c1 - zr[i1] * s1;
          const c2 = cos[t1];
          const s2 = sin[t1];
          const cr = zr[i2] * c2 + zi[i2] * s2;
          const ci = zi[i2] * c2 - zr[i2] * s2;
          const c3 = cos[t3];
          const s3 = sin[t3];
          const dr = zr[i3] * c3 + zi[i3] * s3;
          const di = zi[i3] * c3 - zr[i3] * s3;
          const er = zr[i0] + br;
          const ei = zi[i0] + bi;
          const fr = zr[i0] - br;
          const fi = zi[i0] - bi;
          const gr = cr + dr;
          const gi = ci + di;
          const hr = cr - dr;
          const hi = ci - di;
          zr[i0] = er + gr;
          zi[i0] = ei + gi;
          zr[i1] = fr + hi;
          zi[i1] = fi - hr;
          zr[i2] = er - gr;
          zi[i2] = ei - gi;
          zr[i3] = fr - hi;
          zi[i3] = fi + hr;
        }
      }
    }
  }

  return {
    size,
    forward(input, re, im) {
      for (let i = 0; i < half; i++) {
        const j = reversed[i] * 2;
        zr[i] = input[j];
        zi[i] = input[j + 1];
      }
      complexForward();
      re[0] = zr[0] + zi[0];
      im[0] = 0;
      re[half] = zr[0] - zi[0];
      im[half] = 0;
      for (let k = 1; k <= half >> 1; k++) {
        const m = half - k;
        const evenR = 0.5 * (zr[k] + zr[m]);
        const evenI = 0.5 * (zi[k] - zi[m]);
        const oddR = 0.5 * (zi[k] + zi[m]);
        const oddI = 0.5 * (zr[m] - zr[k]);
        const tr = oddR * cos[k] + oddI * sin[k];
        const ti = oddI * cos[k] - oddR * sin[k];
        re[k] = evenR + tr;
        im[k] = evenI + ti;
        re[m] = evenR - tr;
        im[m] = ti - evenI;
      }
    },
  };
}
