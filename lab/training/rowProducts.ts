import makeWabt from 'wabt';

/**
 * Products of rows and weights, and what they add to the weights' slopes: the innermost loops of fitting, four values at
 * a time. `rowBytes` is a whole number of vectors, `units` a multiple of four.
 */
const SOURCE = `
(module
  (memory (export "memory") 64)

  ;; out[r · units + u] = the sum of w[u · n + i] · x[r · n + i] over the n values of a row.
  (func (export "products") (param $x i32) (param $rows i32) (param $w i32) (param $units i32) (param $rowBytes i32) (param $out i32)
    (local $u i32) (local $i i32) (local $p0 i32) (local $p1 i32) (local $p2 i32) (local $p3 i32)
    (local $xi v128) (local $a0 v128) (local $a1 v128) (local $a2 v128) (local $a3 v128)
    (block $done
      (loop $row
        (br_if $done (i32.eqz (local.get $rows)))
        (local.set $p0 (local.get $w))
        (local.set $u (local.get $units))
        (loop $four
          (local.set $p1 (i32.add (local.get $p0) (local.get $rowBytes)))
          (local.set $p2 (i32.add (local.get $p1) (local.get $rowBytes)))
          (local.set $p3 (i32.add (local.get $p2) (local.get $rowBytes)))
          (local.set $a0 (v128.const i32x4 0 0 0 0))
          (local.set $a1 (v128.const i32x4 0 0 0 0))
          (local.set $a2 (v128.const i32x4 0 0 0 0))
          (local.set $a3 (v128.const i32x4 0 0 0 0))
          (local.set $i (i32.const 0))
          (loop $next
            (local.set $xi (v128.load (i32.add (local.get $x) (local.get $i))))
            (local.set $a0 (f32x4.add (local.get $a0) (f32x4.mul (local.get $xi) (v128.load (i32.add (local.get $p0) (local.get $i))))))
            (local.set $a1 (f32x4.add (local.get $a1) (f32x4.mul (local.get $xi) (v128.load (i32.add (local.get $p1) (local.get $i))))))
            (local.set $a2 (f32x4.add (local.get $a2) (f32x4.mul (local.get $xi) (v128.load (i32.add (local.get $p2) (local.get $i))))))
            (local.set $a3 (f32x4.add (local.get $a3) (f32x4.mul (local.get $xi) (v128.load (i32.add (local.get $p3) (local.get $i))))))
            (local.set $i (i32.add (local.get $i) (i32.const 16)))
            (br_if $next (i32.lt_u (local.get $i) (local.get $rowBytes))))
          (f32.store offset=0 (local.get $out) (call $sum (local.get $a0)))
          (f32.store offset=4 (local.get $out) (call $sum (local.get $a1)))
          (f32.store offset=8 (local.get $out) (call $sum (local.get $a2)))
          (f32.store offset=12 (local.get $out) (call $sum (local.get $a3)))
          (local.set $out (i32.add (local.get $out) (i32.const 16)))
          (local.set $p0 (i32.add (local.get $p3) (local.get $rowBytes)))
          (local.set $u (i32.sub (local.get $u) (i32.const 4)))
          (br_if $four (i32.gt_s (local.get $u) (i32.const 0))))
        (local.set $x (i32.add (local.get $x) (local.get $rowBytes)))
        (local.set $rows (i32.sub (local.get $rows) (i32.const 1)))
        (br $row))))

  (func $sum (param $a v128) (result f32)
    (f32.add
      (f32.add (f32x4.extract_lane 0 (local.get $a)) (f32x4.extract_lane 1 (local.get $a)))
      (f32.add (f32x4.extract_lane 2 (local.get $a)) (f32x4.extract_lane 3 (local.get $a)))))

  ;; slope[u · n + i] += the sum of pull[r · units + u] · x[r · n + i] over all rows.
  (func (export "slopes") (param $x i32) (param $rows i32) (param $pull i32) (param $units i32) (param $rowBytes i32) (param $slope i32)
    (local $u i32) (local $i i32) (local $p i32) (local $s v128)
    (block $done
      (loop $row
        (br_if $done (i32.eqz (local.get $rows)))
        (local.set $p (local.get $slope))
        (local.set $u (local.get $units))
        (loop $unit
          (if (f32.ne (f32.load (local.get $pull)) (f32.const 0))
            (then
              (local.set $s (v128.load32_splat (local.get $pull)))
              (local.set $i (i32.const 0))
              (loop $next
                (v128.store (i32.add (local.get $p) (local.get $i))
                  (f32x4.add
                    (v128.load (i32.add (local.get $p) (local.get $i)))
                    (f32x4.mul (local.get $s) (v128.load (i32.add (local.get $x) (local.get $i))))))
                (local.set $i (i32.add (local.get $i) (i32.const 16)))
                (br_if $next (i32.lt_u (local.get $i) (local.get $rowBytes))))))
          (local.set $pull (i32.add (local.get $pull) (i32.const 4)))
          (local.set $p (i32.add (local.get $p) (local.get $rowBytes)))
          (local.set $u (i32.sub (local.get $u) (i32.const 1)))
          (br_if $unit (i32.gt_s (local.get $u) (i32.const 0))))
        (local.set $x (i32.add (local.get $x) (local.get $rowBytes)))
        (local.set $rows (i32.sub (local.get $rows) (i32.const 1)))
        (br $row)))))`;

interface Loops {
  memory: WebAssembly.Memory;
  products(x: number, rows: number, w: number, units: number, rowBytes: number, out: number): void;
  slopes(x: number, rows: number, pull: number, units: number, rowBytes: number, slope: number): void;
}
const parsed = (await makeWabt()).parseWat('rowProducts', SOURCE, { simd: true });
const loops = new WebAssembly.Instance(new WebAssembly.Module(Buffer.from(parsed.toBinary({}).buffer)))
  .exports as unknown as Loops;
parsed.destroy();

const PAGE_BYTES = 65_536;
const upToFour = (count: number) => 4 * Math.ceil(count / 4);

/** Rows of `size` observations that are multiplied with `units` rows of weights. */
export interface RowProducts {
  /** Weights, unit after unit: row `u` begins at `u · stride`. */
  readonly weights: Float32Array;
  readonly stride: number;
  /** Lays out some rows of `flat`; returns their products, row after row: that with unit `u` at `r · unitStride + u`. */
  multiply(flat: Float32Array, some: readonly number[]): Float32Array;
  readonly unitStride: number;
  /** What is wanted of each product of the rows that were laid out last; where it is 0 nothing is added. */
  readonly pulls: Float32Array;
  /** Sums of pulls and rows, laid out as the weights are; begun anew each time. */
  slopes(): Float32Array;
}

/** Each has the memory to itself while it works: what is laid out lasts until another one multiplies. */
export function makeRowProducts(size: number, units: number): RowProducts {
  const stride = upToFour(size);
  const unitStride = upToFour(units);
  const weights = new Float32Array(stride * unitStride);
  const laidOut = new Float32Array(0);
  let pulls = laidOut;
  let rows = laidOut;
  let count = 0;
  const at = (bytes: readonly number[]) => {
    const places: number[] = [];
    let next = 0;
    for (const length of bytes) {
      places.push(next);
      next += 16 * Math.ceil(length / 16);
    }
    const lacks = next - loops.memory.buffer.byteLength;
    if (lacks > 0) loops.memory.grow(Math.ceil(lacks / PAGE_BYTES));
    return places;
  };
  const placesNow = () =>
    at([4 * weights.length, 4 * weights.length, 4 * count * stride, 4 * count * unitStride]);
  return {
    weights,
    stride,
    unitStride,
    get pulls() {
      return pulls;
    },
    multiply(flat, some) {
      count = some.length;
      const [w, , x, out] = placesNow();
      if (rows.length < count * stride) rows = new Float32Array(count * stride);
      for (let r = 0; r < count; r++) {
        const from = some[r] * size;
        rows.set(flat.subarray(from, from + size), r * stride);
      }
      new Float32Array(loops.memory.buffer, w, weights.length).set(weights);
      new Float32Array(loops.memory.buffer, x, count * stride).set(rows.subarray(0, count * stride));
      loops.products(x, count, w, unitStride, 4 * stride, out);
      if (pulls.length !== count * unitStride) pulls = new Float32Array(count * unitStride);
      else pulls.fill(0);
      return new Float32Array(loops.memory.buffer, out, count * unitStride).slice();
    },
    slopes() {
      const [, slope, x, pull] = placesNow();
      const sums = new Float32Array(loops.memory.buffer, slope, weights.length).fill(0);
      // Another one may have multiplied meanwhile.
      new Float32Array(loops.memory.buffer, x, count * stride).set(rows.subarray(0, count * stride));
      new Float32Array(loops.memory.buffer, pull, pulls.length).set(pulls);
      loops.slopes(x, count, pull, unitStride, 4 * stride, slope);
      return sums;
    },
  };
}
