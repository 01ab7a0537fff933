;; Reads the words and numbers of a text of ASCII, sixty-four bytes at a time. See token-kernel.ts.
(module
  (memory (export "memory") 4)
  ;; text: where the bytes stand; eight before, and sixty-four behind, can be read. length: how many.
  ;; first: 16384 bytes, a slot for each hash of a word's first four letters: 1 where it may be known, or 0.
  ;; known: 4096 slots of 32 bytes, each for a word of sixteen bytes at most: what both cases have in common of its
  ;; first eight bytes and of its last; its length, and 256 more where it is a number; its place. See $learn.
  ;; starts, ends, places: what is answered, four bytes each, with room for one of each byte: offsets, counted from
  ;; $base; and the place of a word, 0 where it is not known, -1 where that has to be asked.
  (global $asked (export "asked") (mut i32) (i32.const 0))

  ;; What both cases have in common of up to eight bytes from $s on.
  (func $front (param $s i32) (param $length i32) (result i64)
    (local $cut i64)
    (local.set $cut (i64.extend_i32_u (i32.shl
      (select (i32.sub (i32.const 8) (local.get $length)) (i32.const 0) (i32.lt_u (local.get $length) (i32.const 8)))
      (i32.const 3))))
    (i64.and (i64.const 0x1f1f1f1f1f1f1f1f)
      (i64.shr_u (i64.shl (i64.load align=1 (local.get $s)) (local.get $cut)) (local.get $cut))))

  ;; The same of the eight bytes before $e; 0 where the word has no more than eight.
  (func $back (param $e i32) (param $length i32) (result i64)
    (select
      (i64.and (i64.const 0x1f1f1f1f1f1f1f1f) (i64.load align=1 (i32.sub (local.get $e) (i32.const 8))))
      (i64.const 0)
      (i32.gt_u (local.get $length) (i32.const 8))))

  (func $tag (param $s i32) (param $length i32) (result i32)
    (i32.or (local.get $length)
      (i32.shl (i32.lt_u (i32.sub (i32.load8_u (local.get $s)) (i32.const 48)) (i32.const 10)) (i32.const 8))))

  ;; Where a word stands in the table of those known.
  (func $slot (param $known i32) (param $front i64) (param $back i64) (result i32)
    (i32.add (local.get $known) (i32.shl (i32.wrap_i64 (i64.shr_u
      (i64.mul
        (i64.add (local.get $front) (i64.mul (local.get $back) (i64.const 0xd6e8feb86659fd93)))
        (i64.const 0x9e3779b97f4a7c15))
      (i64.const 52))) (i32.const 5))))

  ;; Notes the place of the word in [$s, $e) of the memory. One of more than sixteen bytes is not told by what is kept.
  (func (export "learn") (param $known i32) (param $s i32) (param $e i32) (param $place i32)
    (local $length i32) (local $slot i32)
    (local.set $length (i32.sub (local.get $e) (local.get $s)))
    (if (i32.gt_u (local.get $length) (i32.const 16)) (then (return)))
    (local.set $slot (call $slot (local.get $known)
      (call $front (local.get $s) (local.get $length)) (call $back (local.get $e) (local.get $length))))
    (i64.store (local.get $slot) (call $front (local.get $s) (local.get $length)))
    (i64.store offset=8 (local.get $slot) (call $back (local.get $e) (local.get $length)))
    (i32.store offset=16 (local.get $slot) (call $tag (local.get $s) (local.get $length)))
    (i32.store offset=20 (local.get $slot) (local.get $place)))

  ;; Answers how many words there are; -1 where a byte is beyond ASCII, or 1. The global "asked" tells how many have to be
  ;; asked for.
  (func (export "read") (param $text i32) (param $length i32) (param $first i32) (param $known i32) (param $base i32) (param $starts i32) (param $ends i32) (param $places i32) (result i32)
    (local $at i32) (local $v v128) (local $k i32) (local $n i32) (local $s i32) (local $e i32)
    (local $letters i64) (local $digits i64) (local $odd i64) (local $own i64) (local $beginning i64) (local $ending i64)
    (local $lastLetter i64) (local $lastDigit i64) (local $front i64) (local $back i64) (local $size i32) (local $slot i32) (local $place i32) (local $to i32)
    (local.set $s (local.get $starts))
    (local.set $e (local.get $ends))
    (block $done
      (loop $blocks
        (br_if $done (i32.ge_u (local.get $at) (local.get $length)))
        (local.set $letters (i64.const 0))
        (local.set $digits (i64.const 0))
        (local.set $odd (i64.const 0))
        (local.set $k (i32.const 0))
        (loop $quarters
          (local.set $v (v128.load (i32.add (local.get $text) (i32.add (local.get $at) (local.get $k)))))
          (local.set $letters (i64.or (local.get $letters) (i64.shl
            (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u
              (i8x16.sub (v128.or (local.get $v) (i8x16.splat (i32.const 32))) (i8x16.splat (i32.const 97)))
              (i8x16.splat (i32.const 26)))))
            (i64.extend_i32_u (local.get $k)))))
          (local.set $digits (i64.or (local.get $digits) (i64.shl
            (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u
              (i8x16.sub (local.get $v) (i8x16.splat (i32.const 48)))
              (i8x16.splat (i32.const 10)))))
            (i64.extend_i32_u (local.get $k)))))
          (local.set $odd (i64.or (local.get $odd) (i64.shl
            (i64.extend_i32_u (i8x16.bitmask (v128.or (local.get $v) (i8x16.eq (local.get $v) (i8x16.splat (i32.const 1))))))
            (i64.extend_i32_u (local.get $k)))))
          (local.set $k (i32.add (local.get $k) (i32.const 16)))
          (br_if $quarters (i32.lt_u (local.get $k) (i32.const 64))))
        ;; What is behind the end does not count.
        (local.set $k (i32.sub (local.get $length) (local.get $at)))
        (local.set $own (i64.const -1))
        (if (i32.lt_u (local.get $k) (i32.const 64))
          (then (local.set $own (i64.sub (i64.shl (i64.const 1) (i64.extend_i32_u (local.get $k))) (i64.const 1)))))
        (if (i32.eqz (i64.eqz (i64.and (local.get $odd) (local.get $own)))) (then (return (i32.const -1))))
        (local.set $letters (i64.and (local.get $letters) (local.get $own)))
        (local.set $digits (i64.and (local.get $digits) (local.get $own)))
        ;; Shifted by one, each says what stands before.
        (local.set $lastLetter (i64.or (i64.shl (local.get $letters) (i64.const 1)) (local.get $lastLetter)))
        (local.set $lastDigit (i64.or (i64.shl (local.get $digits) (i64.const 1)) (local.get $lastDigit)))
        (local.set $beginning (i64.or
          (i64.and (local.get $letters) (i64.xor (local.get $lastLetter) (i64.const -1)))
          (i64.and (local.get $digits) (i64.xor (local.get $lastDigit) (i64.const -1)))))
        (local.set $ending (i64.or
          (i64.and (local.get $lastLetter) (i64.xor (local.get $letters) (i64.const -1)))
          (i64.and (local.get $lastDigit) (i64.xor (local.get $digits) (i64.const -1)))))
        (block $begun
          (loop $more
            (br_if $begun (i64.eqz (local.get $beginning)))
            (i32.store (local.get $s) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $beginning)))))
            (local.set $s (i32.add (local.get $s) (i32.const 4)))
            (local.set $beginning (i64.and (local.get $beginning) (i64.sub (local.get $beginning) (i64.const 1))))
            (br $more)))
        (block $ended
          (loop $more
            (br_if $ended (i64.eqz (local.get $ending)))
            (i32.store (local.get $e) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $ending)))))
            (local.set $e (i32.add (local.get $e) (i32.const 4)))
            (local.set $ending (i64.and (local.get $ending) (i64.sub (local.get $ending) (i64.const 1))))
            (br $more)))
        (local.set $lastLetter (i64.shr_u (local.get $letters) (i64.const 63)))
        (local.set $lastDigit (i64.shr_u (local.get $digits) (i64.const 63)))
        (local.set $at (i32.add (local.get $at) (i32.const 64)))
        (br $blocks)))
    ;; A word that the end cuts, where the end is that of a row.
    (i32.store (local.get $e) (local.get $length))
    (local.set $n (i32.shr_u (i32.sub (local.get $s) (local.get $starts)) (i32.const 2)))
    (local.set $k (i32.const 0))
    (global.set $asked (i32.const 0))
    (block $looked
      (loop $words
        (br_if $looked (i32.ge_u (local.get $k) (local.get $n)))
        (local.set $to (i32.shl (local.get $k) (i32.const 2)))
        (local.set $s (i32.load (i32.add (local.get $starts) (local.get $to))))
        (local.set $e (i32.load (i32.add (local.get $ends) (local.get $to))))
        (i32.store (i32.add (local.get $starts) (local.get $to)) (i32.add (local.get $s) (local.get $base)))
        (i32.store (i32.add (local.get $ends) (local.get $to)) (i32.add (local.get $e) (local.get $base)))
        (local.set $size (i32.sub (local.get $e) (local.get $s)))
        (local.set $s (i32.add (local.get $s) (local.get $text)))
        (local.set $front (call $front (local.get $s) (local.get $size)))
        (local.set $place (i32.const 0))
        (if (i32.load8_u (i32.add (local.get $first)
              (i32.shr_u (i32.mul (i32.wrap_i64 (local.get $front)) (i32.const 0x9e3779b1)) (i32.const 18))))
          (then
            (local.set $back (call $back (i32.add (local.get $e) (local.get $text)) (local.get $size)))
            (local.set $slot (call $slot (local.get $known) (local.get $front) (local.get $back)))
            (if (i32.and
                  (i32.and (i64.eq (i64.load (local.get $slot)) (local.get $front))
                    (i64.eq (i64.load offset=8 (local.get $slot)) (local.get $back)))
                  (i32.eq (i32.load offset=16 (local.get $slot)) (call $tag (local.get $s) (local.get $size))))
              (then (local.set $place (i32.load offset=20 (local.get $slot))))
              (else
                (local.set $place (i32.const -1))
                (global.set $asked (i32.add (global.get $asked) (i32.const 1)))))))
        (i32.store (i32.add (local.get $places) (local.get $to)) (local.get $place))
        (local.set $k (i32.add (local.get $k) (i32.const 1)))
        (br $words)))
    (local.get $n)))
