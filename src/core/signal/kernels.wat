;; The innermost loops of listening and bending, four values at a time. `npm run kernels` assembles this into kernels.json.
;; Addresses are in bytes, counts in values of four bytes; counts are rounded up to whole vectors, and what is
;; read and written beyond them is the caller's own spare room.
(module
  (memory (export "memory") 256 256)

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
      (br_if $band (i32.lt_u (local.get $out) (local.get $end)))))

  ;; out[n] = the sum of w[i] · x[firsts[n] + i] over a row of taps, for n < count; w lies between two rows of `rows`, at
  ;; places[n]: its whole part is the row, the rest the share of the next one. Rows are whole vectors.
  (func (export "read") (param $rows i32) (param $rowBytes i32) (param $places i32) (param $firsts i32) (param $x i32) (param $out i32) (param $count i32)
    (local $end i32) (local $row i32) (local $near i32) (local $far i32) (local $to i32) (local $at i32)
    (local $share v128) (local $w v128) (local $sum v128)
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $frame
      (local.set $row (i32.trunc_f32_u (f32.load (local.get $places))))
      (local.set $share (f32x4.splat
        (f32.sub (f32.load (local.get $places)) (f32.convert_i32_u (local.get $row)))))
      (local.set $near (i32.add (local.get $rows) (i32.mul (local.get $row) (local.get $rowBytes))))
      (local.set $to (i32.add (local.get $near) (local.get $rowBytes)))
      (local.set $far (local.get $to))
      (local.set $at (i32.add (local.get $x) (i32.shl (i32.load (local.get $firsts)) (i32.const 2))))
      (local.set $sum (v128.const f32x4 0 0 0 0))
      (loop $tap
        (local.set $w (v128.load (local.get $near)))
        (local.set $w (f32x4.add (local.get $w)
          (f32x4.mul (local.get $share) (f32x4.sub (v128.load (local.get $far)) (local.get $w)))))
        (local.set $sum (f32x4.add (local.get $sum) (f32x4.mul (local.get $w) (v128.load (local.get $at)))))
        (local.set $near (i32.add (local.get $near) (i32.const 16)))
        (local.set $far (i32.add (local.get $far) (i32.const 16)))
        (local.set $at (i32.add (local.get $at) (i32.const 16)))
        (br_if $tap (i32.lt_u (local.get $near) (local.get $to))))
      (f32.store (local.get $out) (call $total (local.get $sum)))
      (local.set $places (i32.add (local.get $places) (i32.const 4)))
      (local.set $firsts (i32.add (local.get $firsts) (i32.const 4)))
      (local.set $out (i32.add (local.get $out) (i32.const 4)))
      (br_if $frame (i32.lt_u (local.get $out) (local.get $end)))))

  ;; out[i] = scale · x[i] · window[i] · mask[i] for i < count.
  (func (export "framed") (param $x i32) (param $window i32) (param $mask i32) (param $scale f32) (param $out i32) (param $count i32)
    (local $end i32) (local $s v128)
    (local.set $s (f32x4.splat (local.get $scale)))
    (local.set $end (i32.add (local.get $out) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (v128.store (local.get $out)
        (f32x4.mul (local.get $s)
          (f32x4.mul
            (f32x4.mul (v128.load (local.get $x)) (v128.load (local.get $window)))
            (v128.load (local.get $mask)))))
      (local.set $x (i32.add (local.get $x) (i32.const 16)))
      (local.set $window (i32.add (local.get $window) (i32.const 16)))
      (local.set $mask (i32.add (local.get $mask) (i32.const 16)))
      (local.set $out (i32.add (local.get $out) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $out) (local.get $end)))))

  ;; sum[i] += x[i] for i < count.
  (func (export "add") (param $x i32) (param $sum i32) (param $count i32)
    (local $end i32)
    (local.set $end (i32.add (local.get $sum) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (v128.store (local.get $sum) (f32x4.add (v128.load (local.get $sum)) (v128.load (local.get $x))))
      (local.set $x (i32.add (local.get $x) (i32.const 16)))
      (local.set $sum (i32.add (local.get $sum) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $sum) (local.get $end)))))

  ;; power[k] += the power of bin k of a spectrum [re 0, im 0, re 1, im 1 …] for k < count.
  (func (export "addPower") (param $spectrum i32) (param $power i32) (param $count i32)
    (local $end i32) (local $a v128) (local $b v128) (local $re v128) (local $im v128)
    (local.set $end (i32.add (local.get $power) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $a (v128.load (local.get $spectrum)))
      (local.set $b (v128.load offset=16 (local.get $spectrum)))
      (local.set $re
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $a) (local.get $b)))
      (local.set $im
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $a) (local.get $b)))
      (v128.store (local.get $power)
        (f32x4.add (v128.load (local.get $power))
          (f32x4.add
            (f32x4.mul (local.get $re) (local.get $re))
            (f32x4.mul (local.get $im) (local.get $im)))))
      (local.set $spectrum (i32.add (local.get $spectrum) (i32.const 32)))
      (local.set $power (i32.add (local.get $power) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $power) (local.get $end)))))

  ;; Each bin of a spectrum times re[k] + i · im[k], into `out`, for k < count.
  (func (export "turned") (param $spectrum i32) (param $re i32) (param $im i32) (param $out i32) (param $count i32)
    (local $end i32) (local $a v128) (local $b v128) (local $x v128) (local $y v128) (local $c v128) (local $d v128)
    (local.set $end (i32.add (local.get $re) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $a (v128.load (local.get $spectrum)))
      (local.set $b (v128.load offset=16 (local.get $spectrum)))
      (local.set $x
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $a) (local.get $b)))
      (local.set $y
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $a) (local.get $b)))
      (local.set $c (v128.load (local.get $re)))
      (local.set $d (v128.load (local.get $im)))
      (local.set $a (f32x4.sub (f32x4.mul (local.get $x) (local.get $c)) (f32x4.mul (local.get $y) (local.get $d))))
      (local.set $b (f32x4.add (f32x4.mul (local.get $x) (local.get $d)) (f32x4.mul (local.get $y) (local.get $c))))
      (v128.store (local.get $out)
        (i8x16.shuffle 0 1 2 3 16 17 18 19 4 5 6 7 20 21 22 23 (local.get $a) (local.get $b)))
      (v128.store offset=16 (local.get $out)
        (i8x16.shuffle 8 9 10 11 24 25 26 27 12 13 14 15 28 29 30 31 (local.get $a) (local.get $b)))
      (local.set $spectrum (i32.add (local.get $spectrum) (i32.const 32)))
      (local.set $out (i32.add (local.get $out) (i32.const 32)))
      (local.set $re (i32.add (local.get $re) (i32.const 16)))
      (local.set $im (i32.add (local.get $im) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $re) (local.get $end)))))

  ;; How far each bin of `now` goes on from `then`: now[k] times the conjugate of then[k], as re[k], im[k] and its size, for k < count.
  (func (export "advances") (param $now i32) (param $then i32) (param $re i32) (param $im i32) (param $size i32) (param $count i32)
    (local $end i32) (local $a v128) (local $b v128) (local $c v128) (local $d v128) (local $v v128) (local $w v128)
    (local.set $end (i32.add (local.get $re) (i32.shl (local.get $count) (i32.const 2))))
    (loop $next
      (local.set $v (v128.load (local.get $now)))
      (local.set $w (v128.load offset=16 (local.get $now)))
      (local.set $a
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $v) (local.get $w)))
      (local.set $b
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $v) (local.get $w)))
      (local.set $v (v128.load (local.get $then)))
      (local.set $w (v128.load offset=16 (local.get $then)))
      (local.set $c
        (i8x16.shuffle 0 1 2 3 8 9 10 11 16 17 18 19 24 25 26 27 (local.get $v) (local.get $w)))
      (local.set $d
        (i8x16.shuffle 4 5 6 7 12 13 14 15 20 21 22 23 28 29 30 31 (local.get $v) (local.get $w)))
      (local.set $v (f32x4.add (f32x4.mul (local.get $a) (local.get $c)) (f32x4.mul (local.get $b) (local.get $d))))
      (local.set $w (f32x4.sub (f32x4.mul (local.get $b) (local.get $c)) (f32x4.mul (local.get $a) (local.get $d))))
      (v128.store (local.get $re) (local.get $v))
      (v128.store (local.get $im) (local.get $w))
      (v128.store (local.get $size)
        (f32x4.sqrt (f32x4.add (f32x4.mul (local.get $v) (local.get $v)) (f32x4.mul (local.get $w) (local.get $w)))))
      (local.set $now (i32.add (local.get $now) (i32.const 32)))
      (local.set $then (i32.add (local.get $then) (i32.const 32)))
      (local.set $re (i32.add (local.get $re) (i32.const 16)))
      (local.set $im (i32.add (local.get $im) (i32.const 16)))
      (local.set $size (i32.add (local.get $size) (i32.const 16)))
      (br_if $next (i32.lt_u (local.get $re) (local.get $end)))))

  ;; The peaks of power[0] … power[count − 1], each higher than the two before it and no lower than the two after it, as (peak, from, until):
  ;; what lies about it, from valley to valley. Two values below nought stand before the first and behind the last. Gives how many.
  (func (export "peaks") (param $power i32) (param $count i32) (param $out i32) (result i32)
    (local $k i32) (local $at i32) (local $p f32) (local $least f32) (local $peak i32) (local $from i32) (local $valley i32) (local $found i32)
    (local.set $peak (i32.const -1))
    (local.set $least (f32.const inf))
    (local.set $at (local.get $power))
    (loop $next
      (local.set $p (f32.load (local.get $at)))
      (if (f32.lt (local.get $p) (local.get $least))
        (then (local.set $least (local.get $p)) (local.set $valley (local.get $k))))
      (if (f32.gt (local.get $p) (f32.const 0)) (then
        (if (f32.ge (local.get $p) (f32.load offset=4 (local.get $at))) (then
          (if (f32.gt (local.get $p) (f32.load (i32.sub (local.get $at) (i32.const 4)))) (then
            (if (i32.and
                (f32.gt (local.get $p) (f32.load (i32.sub (local.get $at) (i32.const 8))))
                (f32.ge (local.get $p) (f32.load offset=8 (local.get $at)))) (then
              (if (i32.ge_s (local.get $peak) (i32.const 0)) (then
                (if (i32.lt_s (local.get $valley) (local.get $from)) (then (local.set $valley (local.get $from))))
                (i32.store (local.get $out) (local.get $peak))
                (i32.store offset=4 (local.get $out) (local.get $from))
                (i32.store offset=8 (local.get $out) (local.get $valley))
                (local.set $from (local.get $valley))
                (local.set $out (i32.add (local.get $out) (i32.const 12)))
                (local.set $found (i32.add (local.get $found) (i32.const 1)))))
              (local.set $peak (local.get $k))
              ;; The valley behind it is looked for from the next one on.
              (local.set $valley (i32.add (local.get $k) (i32.const 1)))
              (local.set $least (f32.const inf))))))))))
      (local.set $at (i32.add (local.get $at) (i32.const 4)))
      (local.set $k (i32.add (local.get $k) (i32.const 1)))
      (br_if $next (i32.lt_s (local.get $k) (local.get $count))))
    (if (i32.ge_s (local.get $peak) (i32.const 0)) (then
      (i32.store (local.get $out) (local.get $peak))
      (i32.store offset=4 (local.get $out) (local.get $from))
      (i32.store offset=8 (local.get $out) (local.get $count))
      (local.set $found (i32.add (local.get $found) (i32.const 1)))))
    (local.get $found))

  ;; What lies about each of `count` peaks but one at 0, added up into sums: the sizes of its bins, and what of them goes along its peak.
  (func (export "coherence") (param $peaks i32) (param $count i32) (param $re i32) (param $im i32) (param $size i32) (param $sums i32)
    (local $end i32) (local $peak i32) (local $k i32) (local $until i32) (local $r f64) (local $i f64) (local $x f64) (local $y f64)
    (local $length f64) (local $all f64) (local $along f64)
    (local.set $end (i32.add (local.get $peaks) (i32.mul (local.get $count) (i32.const 12))))
    (block $done
      (loop $next
        (br_if $done (i32.ge_u (local.get $peaks) (local.get $end)))
        (local.set $peak (i32.shl (i32.load (local.get $peaks)) (i32.const 2)))
        (local.set $x (f64.promote_f32 (f32.load (i32.add (local.get $re) (local.get $peak)))))
        (local.set $y (f64.promote_f32 (f32.load (i32.add (local.get $im) (local.get $peak)))))
        (local.set $length (f64.sqrt (f64.add (f64.mul (local.get $x) (local.get $x)) (f64.mul (local.get $y) (local.get $y)))))
        (if (i32.and (i32.ne (local.get $peak) (i32.const 0)) (f64.gt (local.get $length) (f64.const 0))) (then
          (local.set $r (f64.const 0))
          (local.set $i (f64.const 0))
          (local.set $k (i32.shl (i32.load offset=4 (local.get $peaks)) (i32.const 2)))
          ;; What stands still is nobody's.
          (if (i32.eqz (local.get $k)) (then (local.set $k (i32.const 4))))
          (local.set $until (i32.shl (i32.load offset=8 (local.get $peaks)) (i32.const 2)))
          (block $added
            (loop $bin
              (br_if $added (i32.ge_u (local.get $k) (local.get $until)))
              (local.set $all (f64.add (local.get $all)
                (f64.promote_f32 (f32.load (i32.add (local.get $size) (local.get $k))))))
              (local.set $r (f64.add (local.get $r) (f64.promote_f32 (f32.load (i32.add (local.get $re) (local.get $k))))))
              (local.set $i (f64.add (local.get $i) (f64.promote_f32 (f32.load (i32.add (local.get $im) (local.get $k))))))
              (local.set $k (i32.add (local.get $k) (i32.const 4)))
              (br $bin)))
          (local.set $along (f64.add (local.get $along)
            (f64.div
              (f64.add (f64.mul (local.get $r) (local.get $x)) (f64.mul (local.get $i) (local.get $y)))
              (local.get $length))))))
        (local.set $peaks (i32.add (local.get $peaks) (i32.const 12)))
        (br $next)))
    (f64.store (local.get $sums) (local.get $all))
    (f64.store offset=8 (local.get $sums) (local.get $along)))

  ;; Adds to re[j], im[j] how far the peak j of `peaks` goes on in `now` from `then`, for j < count.
  (func (export "advancePeaks") (param $peaks i32) (param $count i32) (param $now i32) (param $then i32) (param $sums i32)
    (local $end i32) (local $at i32) (local $a f64) (local $b f64) (local $x f64) (local $y f64)
    (local.set $end (i32.add (local.get $peaks) (i32.mul (local.get $count) (i32.const 12))))
    (loop $next
      (local.set $at (i32.shl (i32.load (local.get $peaks)) (i32.const 3)))
      (local.set $a (f64.promote_f32 (f32.load (i32.add (local.get $now) (local.get $at)))))
      (local.set $b (f64.promote_f32 (f32.load offset=4 (i32.add (local.get $now) (local.get $at)))))
      (local.set $x (f64.promote_f32 (f32.load (i32.add (local.get $then) (local.get $at)))))
      (local.set $y (f64.promote_f32 (f32.load offset=4 (i32.add (local.get $then) (local.get $at)))))
      (f64.store (local.get $sums) (f64.add (f64.load (local.get $sums))
        (f64.add (f64.mul (local.get $a) (local.get $x)) (f64.mul (local.get $b) (local.get $y)))))
      (f64.store offset=8 (local.get $sums) (f64.add (f64.load offset=8 (local.get $sums))
        (f64.sub (f64.mul (local.get $b) (local.get $x)) (f64.mul (local.get $a) (local.get $y)))))
      (local.set $sums (i32.add (local.get $sums) (i32.const 16)))
      (local.set $peaks (i32.add (local.get $peaks) (i32.const 12)))
      (br_if $next (i32.lt_u (local.get $peaks) (local.get $end)))))

  ;; Turns what lies about each peak j by wasRe + i · wasIm at the peak and by its advance (re, im pairs of `sums`): complex numbers of size 1.
  ;; What stands still is not turned.
  (func (export "turnPeaks") (param $peaks i32) (param $count i32) (param $sums i32) (param $wasRe i32) (param $wasIm i32) (param $re i32) (param $im i32)
    (local $end i32) (local $peak i32) (local $k i32) (local $until i32) (local $x f64) (local $y f64) (local $r f64) (local $i f64)
    (local $size f64) (local $old f64) (local $fr f32) (local $fi f32)
    (local.set $end (i32.add (local.get $peaks) (i32.mul (local.get $count) (i32.const 12))))
    (loop $next
      (local.set $peak (i32.shl (i32.load (local.get $peaks)) (i32.const 2)))
      (local.set $r (f64.promote_f32 (f32.load (i32.add (local.get $wasRe) (local.get $peak)))))
      (local.set $i (f64.promote_f32 (f32.load (i32.add (local.get $wasIm) (local.get $peak)))))
      (if (local.get $peak) (then
        (local.set $x (f64.load (local.get $sums)))
        (local.set $y (f64.load offset=8 (local.get $sums)))
        (local.set $size (f64.sqrt (f64.add (f64.mul (local.get $x) (local.get $x)) (f64.mul (local.get $y) (local.get $y)))))
        (if (f64.gt (local.get $size) (f64.const 1e-20)) (then
          (local.set $old (local.get $r))
          (local.set $r (f64.div
            (f64.sub (f64.mul (local.get $r) (local.get $x)) (f64.mul (local.get $i) (local.get $y))) (local.get $size)))
          (local.set $i (f64.div
            (f64.add (f64.mul (local.get $old) (local.get $y)) (f64.mul (local.get $i) (local.get $x))) (local.get $size)))))))
      (local.set $size (f64.max (f64.const 1e-12)
        (f64.sqrt (f64.add (f64.mul (local.get $r) (local.get $r)) (f64.mul (local.get $i) (local.get $i))))))
      (local.set $fr (f32.demote_f64 (f64.div (local.get $r) (local.get $size))))
      (local.set $fi (f32.demote_f64 (f64.div (local.get $i) (local.get $size))))
      (local.set $k (i32.shl (i32.load offset=4 (local.get $peaks)) (i32.const 2)))
      (local.set $until (i32.shl (i32.load offset=8 (local.get $peaks)) (i32.const 2)))
      (block $filled
        (loop $fill
          (br_if $filled (i32.ge_u (local.get $k) (local.get $until)))
          (f32.store (i32.add (local.get $re) (local.get $k)) (local.get $fr))
          (f32.store (i32.add (local.get $im) (local.get $k)) (local.get $fi))
          (local.set $k (i32.add (local.get $k) (i32.const 4)))
          (br $fill)))
      (local.set $sums (i32.add (local.get $sums) (i32.const 16)))
      (local.set $peaks (i32.add (local.get $peaks) (i32.const 12)))
      (br_if $next (i32.lt_u (local.get $peaks) (local.get $end))))))
