;; Finds, sixty-four bytes at a time, where something in a text may begin. See scan-kernel.ts.
(module
  (memory (export "memory") 48)
  ;; text: where the bytes stand; the byte before, and sixty-four and eight after, can be read. length: how many.
  ;; hits: 131072 bytes, a slot for each hash of a word's first four letters, the case of the first told apart: 4 where
  ;; some entry begins so, or 0. Behind them 131072 bytes by another hash of the same letters, words with a capital in the
  ;; first half, those without in the second: from bit 0 on whether to look at the word's first three, four ... eight
  ;; bytes then. deep: 131072 bytes, four slots in each, two of them for the hash of so many bytes: the lower bit any, the
  ;; upper with a capital only; what is no letter is as good as zero there.
  ;; signs: 32 bytes, by low and by high half of a byte; where both have a bit in common, the byte is a sign sought or a
  ;; digit.
  ;; words: where the offsets of words go, four bytes each, with room for one of each byte and sixty-four more; answers
  ;; how many there are. others: the same for what else there is, with room for two of each byte: the offset shifted left
  ;; by two, and 1 digits, 2 sign, 3 capitals; the global "others" tells how many.
  (global $others (export "others") (mut i32) (i32.const 0))
  (func (export "scan") (param $text i32) (param $length i32) (param $hits i32) (param $deep i32) (param $signs i32) (param $words i32) (param $out i32) (result i32)
    (local $at i32) (local $n i32) (local $v0 v128) (local $v1 v128) (local $v2 v128) (local $v3 v128) (local $o0 v128) (local $o1 v128) (local $o2 v128) (local $o3 v128)
    (local $alpha i64) (local $wide i64) (local $odd i64) (local $caps i64) (local $last i64) (local $starts i64) (local $count i32) (local $bit i32)
    (local $word i32) (local $low v128) (local $high v128) (local $p i32) (local $to i32) (local $end i32) (local $hit i32)
    (local $got i32) (local $slot i32) (local $other i32) (local $w i64) (local $l i64)
    (local $case v128) (local $turn v128) (local $above v128) (local $nibble v128) (local $zero v128)
    (local.set $low (v128.load (local.get $signs)))
    (local.set $high (v128.load offset=16 (local.get $signs)))
    (local.set $case (i8x16.splat (i32.const 32)))
    ;; Added to a letter in lower case, it makes the lowest of all signed bytes; letters are below -102.
    (local.set $turn (i8x16.splat (i32.const 31)))
    (local.set $above (i8x16.splat (i32.const -102)))
    (local.set $nibble (i8x16.splat (i32.const 15)))
    (local.set $p (i32.load8_u (i32.sub (local.get $text) (i32.const 1))))
    (local.set $last (i64.extend_i32_u (i32.lt_u (i32.sub (i32.or (local.get $p) (i32.const 32)) (i32.const 97)) (i32.const 26))))
    (local.set $to (local.get $words))
    (block $done
      (loop $blocks
        (br_if $done (i32.ge_u (local.get $at) (local.get $length)))
        ;; Sixty-four bytes as rows of bits: letters of ASCII, and, seldom there, bytes beyond it, and digits and signs sought.
        (local.set $v0 (v128.load (i32.add (local.get $text) (local.get $at))))
        (local.set $v1 (v128.load offset=16 (i32.add (local.get $text) (local.get $at))))
        (local.set $v2 (v128.load offset=32 (i32.add (local.get $text) (local.get $at))))
        (local.set $v3 (v128.load offset=48 (i32.add (local.get $text) (local.get $at))))
        (local.set $alpha (i64.or (i64.or (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_s (i8x16.add (v128.or (local.get $v0) (local.get $case)) (local.get $turn)) (local.get $above))))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_s (i8x16.add (v128.or (local.get $v1) (local.get $case)) (local.get $turn)) (local.get $above)))) (i64.const 16)))
          (i64.or (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_s (i8x16.add (v128.or (local.get $v2) (local.get $case)) (local.get $turn)) (local.get $above)))) (i64.const 32))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_s (i8x16.add (v128.or (local.get $v3) (local.get $case)) (local.get $turn)) (local.get $above)))) (i64.const 48)))))
        (local.set $wide (i64.const 0))
        (if (i8x16.bitmask (v128.or (v128.or (local.get $v0) (local.get $v1)) (v128.or (local.get $v2) (local.get $v3))))
          (then (local.set $wide (i64.or (i64.or (i64.extend_i32_u (i8x16.bitmask (local.get $v0)))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v1))) (i64.const 16)))
          (i64.or (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v2))) (i64.const 32))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v3))) (i64.const 48)))))))
        (local.set $o0 (v128.and
          (i8x16.swizzle (local.get $low) (v128.and (local.get $v0) (local.get $nibble)))
          (i8x16.swizzle (local.get $high) (v128.and (i16x8.shr_u (local.get $v0) (i32.const 4)) (local.get $nibble)))))
        (local.set $o1 (v128.and
          (i8x16.swizzle (local.get $low) (v128.and (local.get $v1) (local.get $nibble)))
          (i8x16.swizzle (local.get $high) (v128.and (i16x8.shr_u (local.get $v1) (i32.const 4)) (local.get $nibble)))))
        (local.set $o2 (v128.and
          (i8x16.swizzle (local.get $low) (v128.and (local.get $v2) (local.get $nibble)))
          (i8x16.swizzle (local.get $high) (v128.and (i16x8.shr_u (local.get $v2) (i32.const 4)) (local.get $nibble)))))
        (local.set $o3 (v128.and
          (i8x16.swizzle (local.get $low) (v128.and (local.get $v3) (local.get $nibble)))
          (i8x16.swizzle (local.get $high) (v128.and (i16x8.shr_u (local.get $v3) (i32.const 4)) (local.get $nibble)))))
        (local.set $odd (i64.const 0))
        (if (v128.any_true (v128.or (v128.or (local.get $o0) (local.get $o1)) (v128.or (local.get $o2) (local.get $o3))))
          (then (local.set $odd (i64.or (i64.or (i64.extend_i32_u (i8x16.bitmask (i8x16.ne (local.get $o0) (local.get $zero))))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.ne (local.get $o1) (local.get $zero)))) (i64.const 16)))
          (i64.or (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.ne (local.get $o2) (local.get $zero)))) (i64.const 32))
            (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.ne (local.get $o3) (local.get $zero)))) (i64.const 48)))))))
        ;; Words: letters after no letter; a byte beyond ASCII may be one or none, so it counts both ways.
        (local.set $starts (i64.and (i64.or (local.get $alpha) (local.get $wide))
          (i64.xor (i64.or (i64.shl (local.get $alpha) (i64.const 1)) (local.get $last)) (i64.const -1))))
        (local.set $last (i64.shr_u (local.get $alpha) (i64.const 63)))
        (local.set $count (i32.wrap_i64 (i64.popcnt (local.get $starts))))
        ;; Four capitals begin with two.
        (local.set $caps (i64.and (local.get $alpha) (i64.xor (i64.or (i64.or (i64.extend_i32_u (i8x16.bitmask (i16x8.shl (local.get $v0) (i32.const 2)))) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i16x8.shl (local.get $v1) (i32.const 2)))) (i64.const 16))) (i64.or (i64.shl (i64.extend_i32_u (i8x16.bitmask (i16x8.shl (local.get $v2) (i32.const 2)))) (i64.const 32)) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i16x8.shl (local.get $v3) (i32.const 2)))) (i64.const 48)))) (i64.const -1))))
        (local.set $caps (i64.and (i64.and (local.get $starts) (local.get $caps)) (i64.or (i64.shr_u (local.get $caps) (i64.const 1)) (i64.shl (i64.const 1) (i64.const 63)))))
        (local.set $odd (i64.or (local.get $odd) (local.get $caps)))
        ;; Written in rows of eight, whether there are so many or not: a loop that ends now here, now there, costs more.
        (i32.store offset=0 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=4 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=8 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=12 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=16 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=20 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=24 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (i32.store offset=28 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
        (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
        (if (i32.gt_u (local.get $count) (i32.const 8))
          (then
            (i32.store offset=32 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=36 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=40 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=44 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=48 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=52 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=56 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (i32.store offset=60 (local.get $to) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (if (i32.gt_u (local.get $count) (i32.const 16))
              (then
                (local.set $p (i32.add (local.get $to) (i32.const 64)))
                (loop $more
                  (i32.store (local.get $p) (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
                  (local.set $p (i32.add (local.get $p) (i32.const 4)))
                  (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
                  (br_if $more (i32.eqz (i64.eqz (local.get $starts)))))))))
        (local.set $to (i32.add (local.get $to) (i32.shl (local.get $count) (i32.const 2))))
        (block $oddDone
          (loop $odds
            (br_if $oddDone (i64.eqz (local.get $odd)))
            (local.set $bit (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $odd)))))
            (local.set $odd (i64.and (local.get $odd) (i64.sub (local.get $odd) (i64.const 1))))
            (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
            (if (i32.lt_u (i32.sub (i32.and (local.get $word) (i32.const 255)) (i32.const 48)) (i32.const 10))
              (then
                ;; Digits count where they begin.
                (br_if $odds (i32.lt_u (i32.sub (i32.load8_u (i32.sub (i32.add (local.get $text) (local.get $bit)) (i32.const 1))) (i32.const 48)) (i32.const 10)))
                (local.set $hit (i32.const 1)))
              (else
                (local.set $p (i32.and (local.get $word) (i32.const 0x1f1f1f1f)))
                (if (i32.lt_u (i32.sub (i32.or (i32.and (local.get $word) (i32.const 255)) (i32.const 32)) (i32.const 97)) (i32.const 26))
                  (then
                    ;; Each of four capitals has bit 6 and not bit 5, and the rest of it is from 1 to 26.
                    (br_if $odds (i32.or
                      (i32.ne (i32.and (local.get $word) (i32.const 0xe0e0e0e0)) (i32.const 0x40404040))
                      (i32.ne (i32.and (i32.xor
                          (i32.add (local.get $p) (i32.const 0x1f1f1f1f))
                          (i32.add (local.get $p) (i32.const 0x05050505))) (i32.const 0x20202020))
                        (i32.const 0x20202020))))
                    (local.set $hit (i32.const 3)))
                  (else (local.set $hit (i32.const 2))))))
            (i32.store (i32.add (local.get $out) (i32.shl (local.get $n) (i32.const 2))) (i32.or (i32.shl (local.get $bit) (i32.const 2)) (local.get $hit)))
            (local.set $n (i32.add (local.get $n) (i32.const 1)))
            (br $odds)))
        (local.set $at (i32.add (local.get $at) (i32.const 64)))
        (br $blocks)))
    (global.set $others (local.get $n))
    ;; Of the words, those whose first four letters some entry may have: all are written, and the next over what was not.
    (local.set $end (local.get $to))
    (local.set $p (local.get $words))
    (local.set $to (local.get $words))
    (block $foursDone
      (loop $fours
        (br_if $foursDone (i32.gt_u (i32.add (local.get $p) (i32.const 16)) (local.get $end)))
        (local.set $bit (i32.load (local.get $p)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.load8_u (i32.add (local.get $hits)
          (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f3f)) (i32.const 0x9e3779b1)) (i32.const 15))))))
        (local.set $bit (i32.load offset=4 (local.get $p)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.load8_u (i32.add (local.get $hits)
          (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f3f)) (i32.const 0x9e3779b1)) (i32.const 15))))))
        (local.set $bit (i32.load offset=8 (local.get $p)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.load8_u (i32.add (local.get $hits)
          (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f3f)) (i32.const 0x9e3779b1)) (i32.const 15))))))
        (local.set $bit (i32.load offset=12 (local.get $p)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.load8_u (i32.add (local.get $hits)
          (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f3f)) (i32.const 0x9e3779b1)) (i32.const 15))))))
        (local.set $p (i32.add (local.get $p) (i32.const 16)))
        (br $fours)))
    (block $someDone
      (loop $some
        (br_if $someDone (i32.ge_u (local.get $p) (local.get $end)))
        (local.set $bit (i32.load (local.get $p)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.load8_u (i32.add (local.get $hits)
          (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f3f)) (i32.const 0x9e3779b1)) (i32.const 15))))))
        (local.set $p (i32.add (local.get $p) (i32.const 4)))
        (br $some)))
    ;; Of these, those that have the same by the other hash: two different words seldom share both.
    (local.set $end (local.get $to))
    (local.set $p (local.get $words))
    (local.set $to (local.get $words))
    (block $sameDone
      (loop $same
        (br_if $sameDone (i32.ge_u (local.get $p) (local.get $end)))
        (local.set $bit (i32.load (local.get $p)))
        (local.set $p (i32.add (local.get $p) (i32.const 4)))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $to (i32.add (local.get $to) (i32.shl (i32.ne (i32.const 0) (i32.load8_u offset=131072 (i32.add (local.get $hits)
          (i32.or (i32.shl (i32.and (local.get $word) (i32.const 32)) (i32.const 11)) (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f1f)) (i32.const 0x85ebca6b)) (i32.const 16)))))) (i32.const 2))))
        (br $same)))
    ;; And of these, those that go on as an entry does.
    (local.set $end (local.get $to))
    (local.set $p (local.get $words))
    (local.set $to (local.get $words))
    (block $fewDone
      (loop $few
        (br_if $fewDone (i32.ge_u (local.get $p) (local.get $end)))
        (local.set $bit (i32.load (local.get $p)))
        (local.set $p (i32.add (local.get $p) (i32.const 4)))
        (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
        (local.set $hit (i32.load8_u offset=131072 (i32.add (local.get $hits)
          (i32.or (i32.shl (i32.and (local.get $word) (i32.const 32)) (i32.const 11)) (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f1f)) (i32.const 0x85ebca6b)) (i32.const 16))))))
        (local.set $got (i32.const 1))
        (local.set $w (i64.load align=1 (i32.add (local.get $text) (local.get $bit))))
        ;; Bytes beyond ASCII are left to whoever reads the places.
        (if (i64.eqz (i64.and (local.get $w) (i64.const 0x8080808080808080)))
          (then
            (local.set $l (i64.or (local.get $w) (i64.const 0x2020202020202020)))
            (local.set $l (i64.and
              (i64.and (i64.add (local.get $l) (i64.const 0x1f1f1f1f1f1f1f1f))
                       (i64.xor (i64.add (local.get $l) (i64.const 0x0505050505050505)) (i64.const -1)))
              (i64.const 0x8080808080808080)))
            (local.set $w (i64.and (local.get $w) (i64.mul (i64.shr_u (local.get $l) (i64.const 7)) (i64.const 31))))
            (local.set $got (i32.const 0))
            (loop $depths
              ;; Two slots have to agree: words that are not sought seldom have both.
              (local.set $l (i64.mul
                (i64.and (local.get $w) (i64.shr_u (i64.const -1)
                  (i64.extend_i32_u (i32.sub (i32.const 40) (i32.shl (i32.ctz (local.get $hit)) (i32.const 3))))))
                (i64.const 0x9e3779b97f4a7c15)))
              (local.set $slot (i32.wrap_i64 (i64.shr_u (local.get $l) (i64.const 45))))
              (local.set $other (i32.and (i32.wrap_i64 (i64.shr_u (local.get $l) (i64.const 26))) (i32.const 0x7ffff)))
              (local.set $got (i32.or (local.get $got) (i32.and
                (i32.shr_u
                  (i32.load8_u (i32.add (local.get $deep) (i32.shr_u (local.get $slot) (i32.const 2))))
                  (i32.shl (i32.and (local.get $slot) (i32.const 3)) (i32.const 1)))
                (i32.shr_u
                  (i32.load8_u (i32.add (local.get $deep) (i32.shr_u (local.get $other) (i32.const 2))))
                  (i32.shl (i32.and (local.get $other) (i32.const 3)) (i32.const 1))))))
              (local.set $hit (i32.and (local.get $hit) (i32.sub (local.get $hit) (i32.const 1))))
              (br_if $depths (local.get $hit)))
            ;; Which of the two bits will do.
            (local.set $got (i32.and (local.get $got) (i32.or (i32.const 1) (i32.shr_u (i32.and (i32.xor (local.get $word) (i32.const 32)) (i32.const 32)) (i32.const 4)))))))
        (i32.store (local.get $to) (local.get $bit))
        (local.set $to (i32.add (local.get $to) (i32.shl (i32.ne (local.get $got) (i32.const 0)) (i32.const 2))))
        (br $few)))
    (i32.shr_u (i32.sub (local.get $to) (local.get $words)) (i32.const 2))))
