import stored from './kernels.json' with { type: 'json' };

/**
 * The innermost loops of listening and bending in WebAssembly, four values at a time; what each does stands in
 * `kernels.wat`, which `npm run kernels` assembles. Addresses are those of `room`; counts are rounded up to
 * whole vectors of four.
 */
interface Kernels {
  memory: WebAssembly.Memory;
  split(x: number, even: number, odd: number, count: number): void;
  halve(even: number, odd: number, taps: number, out: number, count: number): void;
  windowed(x: number, window: number, out: number, count: number): number;
  magnitudes(spectrum: number, out: number, count: number): void;
  bandPowers(spectrum: number, starts: number, out: number, count: number): void;
  read(
    rows: number,
    rowBytes: number,
    places: number,
    firsts: number,
    x: number,
    out: number,
    count: number,
  ): void;
  framed(x: number, window: number, mask: number, scale: number, out: number, count: number): void;
  add(x: number, sum: number, count: number): void;
  addPower(spectrum: number, power: number, count: number): void;
  turned(spectrum: number, re: number, im: number, out: number, count: number): void;
  advances(now: number, then: number, re: number, im: number, size: number, count: number): void;
  peaks(power: number, count: number, out: number): number;
  coherence(peaks: number, count: number, re: number, im: number, size: number, sums: number): void;
  advancePeaks(peaks: number, count: number, now: number, then: number, sums: number): void;
  turnPeaks(
    peaks: number,
    count: number,
    sums: number,
    wasRe: number,
    wasIm: number,
    re: number,
    im: number,
  ): void;
}

const bytes = Uint8Array.from(atob(stored.wasm), (character) => character.charCodeAt(0));
// At once, not awaited: a worker whose module waits loses the messages that are sent to it meanwhile.
export const kernels = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Kernels;

/** Room in the kernels' memory that a loop keeps for good: made once, where a module is loaded. */
export interface Room<Values = Float32Array> {
  readonly address: number;
  readonly values: Values;
}

const VECTOR_BYTES = 16;
let next = 0;

function reserve(count: number): number {
  const address = next;
  // A vector to spare: counts are rounded up.
  const after = address + (Math.ceil((count * 4) / VECTOR_BYTES) + 1) * VECTOR_BYTES;
  if (after > kernels.memory.buffer.byteLength) throw new RangeError('the kernels have no more memory');
  next = after;
  return address;
}

/** Room for so many values. Throws RangeError when the memory is used up. */
export function roomForFloats(count: number): Room {
  const address = reserve(count);
  return { address, values: new Float32Array(kernels.memory.buffer, address, count) };
}

/** The same for whole numbers from 0 on. */
export function roomForCounts(count: number): Room<Uint32Array> {
  const address = reserve(count);
  return { address, values: new Uint32Array(kernels.memory.buffer, address, count) };
}

/** The same for numbers of eight bytes. */
export function roomForDoubles(count: number): Room<Float64Array> {
  const address = reserve(2 * count);
  return { address, values: new Float64Array(kernels.memory.buffer, address, count) };
}
