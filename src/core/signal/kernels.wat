;; The innermost loops of listening, four values at a time. `npm run kernels` assembles this into kernels.json.
;; Addresses are in bytes, counts in values of four bytes; counts are rounded up to whole vectors, and what is
;; read and written beyond them is the caller's own spare room.
(module
  (memory (export "memory") 16 16)

  ;; even[i] = x[2i], odd[i] = x[2i + 1] for i < count.
  (func (export "split") (param $x i32) (param $even i32) (param $odd i32) (param $count i32)
    (local $end i32) (local $a v128) (local $b v128)
    (local.set $end (i32.add (local.get $even) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $a (v128.load (local.get $x)))
      (local.set $b (v128.load offset=16 (local.get $x)))
      (v128.store (local.get $even)
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $a) (local.get $b)))
      (v128.store (local.get $odd)
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $a) (local.get $b)))
      (local.set $x (i32.add (local.get $x) (i32.const 32)))
      (local.set $odd (i32.add (local.get $odd) (i32.const 16)))
      (local.set $even (i32.add (local.get $even) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $even) (local.get $end)))))

  ;; out[n] = even[n] / 2 + the sum of taps[t] · (odd[n + 11 − t] + odd[n + 12 + t]) over twelve taps.
  (func (export "halve") (param $even i32) (param $odd i32) (param $taps i32) (param $out i32) (param $count i32)
    (local $end i32) (local $sum v128)
    (local $t0 v128) (local $t1 v128) (local $t2 v128) (local $t3 v128) (local $t4 v128) (local $t5 v128) (local $t6 v128) (local $t7 v128) (local $t8 v128) (local $t9 v128) (local $t10 v128) (local $t11 v128)
    (local.set $t0 (v128.load32_splat offset=0 (local.get $taps)))
    (local.set $t1 (v128.load32_splat offset=4 (local.get $taps)))
    (local.set $t2 (v128.load32_splat offset=8 (local.get $taps)))
    (local.set $t3 (v128.load32_splat offset=12 (local.get $taps)))
    (local.set $t4 (v128.load32_splat offset=16 (local.get $taps)))
    (local.set $t5 (v128.load32_splat offset=20 (local.get $taps)))
    (local.set $t6 (v128.load32_splat offset=24 (local.get $taps)))
    (local.set $t7 (v128.load32_splat offset=28 (local.get $taps)))
    (local.set $t8 (v128.load32_splat offset=32 (local.get $taps)))
    (local.set $t9 (v128.load32_splat offset=36 (local.get $taps)))
    (local.set $t10 (v128.load32_splat offset=40 (local.get $taps)))
    (local.set $t11 (v128.load32_splat offset=44 (local.get $taps)))
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $sum (f32x4.mul (f32x4.splat (f32.const 0.5)) (v128.load (local.get $even))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t0)
      (f32x4.add (v128.load offset=44 (local.get $odd)) (v128.load offset=48 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t1)
      (f32x4.add (v128.load offset=40 (local.get $odd)) (v128.load offset=52 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t2)
      (f32x4.add (v128.load offset=36 (local.get $odd)) (v128.load offset=56 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t3)
      (f32x4.add (v128.load offset=32 (local.get $odd)) (v128.load offset=60 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t4)
      (f32x4.add (v128.load offset=28 (local.get $odd)) (v128.load offset=64 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t5)
      (f32x4.add (v128.load offset=24 (local.get $odd)) (v128.load offset=68 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t6)
      (f32x4.add (v128.load offset=20 (local.get $odd)) (v128.load offset=72 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t7)
      (f32x4.add (v128.load offset=16 (local.get $odd)) (v128.load offset=76 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t8)
      (f32x4.add (v128.load offset=12 (local.get $odd)) (v128.load offset=80 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t9)
      (f32x4.add (v128.load offset=8 (local.get $odd)) (v128.load offset=84 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t10)
      (f32x4.add (v128.load offset=4 (local.get $odd)) (v128.load offset=88 (local.get $odd))))))
    (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $t11)
      (f32x4.add (v128.load offset=0 (local.get $odd)) (v128.load offset=92 (local.get $odd))))))
      (v128.store (local.get $out) (local.get $sum))
      (local.set $even (i32.add (local.get $even) (i32.const 16)))
      (local.set $odd (i32.add (local.get $odd) (i32.const 16)))
      (local.set $out (i32.add (local.get $out) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $out) (local.get $end)))))

  ;; The sum of the four lanes.
  (func $total (param $v v128) (result f32)
    (f32.add
      (f32.add (f32x4.extract_lane 0 (local.get $v)) (f32x4.extract_lane 1 (local.get $v)))
      (f32.add (f32x4.extract_lane 2 (local.get $v)) (f32x4.extract_lane 3 (local.get $v)))))

  ;; out[i] = x[i] · window[i] for i < count; gives the sum of their squares.
  (func (export "windowed") (param $x i32) (param $window i32) (param $out i32) (param $count i32) (result f32)
    (local $end i32) (local $v v128) (local $sum v128)
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $v (f32x4.mul (v128.load (local.get $x)) (v128.load (local.get $window))))
      (v128.store (local.get $out) (local.get $v))
      (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $v) (local.get $v))))
      (local.set $x (i32.add (local.get $x) (i32.const 16)))
      (local.set $window (i32.add (local.get $window) (i32.const 16)))
      (local.set $out (i32.add (local.get $out) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $out) (local.get $end))))
    (call $total (local.get $sum)))

  ;; out[i] = the magnitude of bin i of a spectrum [re 0, im 0, re 1, im 1 …] for i < count.
  (func (export "magnitudes") (param $spectrum i32) (param $out i32) (param $count i32)
    (local $end i32) (local $a v128) (local $b v128) (local $re v128) (local $im v128)
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $a (v128.load (local.get $spectrum)))
      (local.set $b (v128.load offset=16 (local.get $spectrum)))
      (local.set $re
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $a) (local.get $b)))
      (local.set $im
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $a) (local.get $b)))
      (v128.store (local.get $out)
        (f32x4.sqrt (f32x4.add
          (f32x4.mul (local.get $re) (local.get $re))
          (f32x4.mul (local.get $im) (local.get $im)))))
      (local.set $spectrum (i32.add (local.get $spectrum) (i32.const 32)))
      (local.set $out (i32.add (local.get $out) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $out) (local.get $end)))))

  ;; out[b] = the mean power of the bins starts[b] … starts[b + 1] − 1 of a spectrum, for b < count; every band has
  ;; a bin at least.
  (func (export "bandPowers") (param $spectrum i32) (param $starts i32) (param $out i32) (param $count i32)
    (local $end i32) (local $at i32) (local $to i32) (local $bins i32) (local $v v128) (local $sum v128)
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $band
      (local.set $bins (i32.sub (i32.load offset=4 (local.get $starts)) (i32.load (local.get $starts))))
      (local.set $at (i32.add (local.get $spectrum) (i32.shl (i32.load (local.get $starts)) (i32.const 3))))
      (local.set $to (i32.add (local.get $at) (i32.shl (local.get $bins) (i32.const 3))))
      (local.set $sum (v128.const f32x4 0 0 0 0))
      ;; An odd bin first, then two at a time.
      (if (i32.and (local.get $bins) (i32.const 1))
        (then
          (local.set $v (v128.load64_zero (local.get $at)))
          (local.set $sum (f32x4.mul (local.get $v) (local.get $v)))
          (local.set $at (i32.add (local.get $at) (i32.const 8)))))
      (if (i32.lt_u (local.get $at) (local.get $to))
        (then
          (loop $next
            (local.set $v (v128.load (local.get $at)))
            (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $v) (local.get $v))))
            (local.set $at (i32.add (local.get $at) (i32.const 16)))
            (br_if $next (i32.lt_u (local.get $at) (local.get $to))))))
      (f32.store (local.get $out)
        (f32.div (call $total (local.get $sum)) (f32.convert_i32_u (local.get $bins))))
      (local.set $starts (i32.add (local.get $starts) (i32.const 4)))
      (local.set $out (i32.add (local.get $out) (i32.const 4)))
      (br_if $band (i32.lt_u (local.get $out) (local.get $end))))))
