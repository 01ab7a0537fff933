;; Finds, sixty-four bytes at a time, where something in a text may begin. See scan-kernel.ts.
(module
  (memory (export "memory") 48)
  ;; text: where the bytes stand; the byte before, and sixty-four and eight after, can be read. length: how many.
  ;; hits: 131072 bytes, a slot for each hash of a word's first four letters: bit 0 any, bit 1 with a capital only, and
  ;; from bit 2 on whether to look at its first three, four ... eight bytes then. deep: 131072 bytes, a slot for each hash
  ;; of so many bytes, with the same two bits; what is no letter is as good as zero there.
  ;; signs: 32 bytes, by low and by high half of a byte; where both have a bit in common, the byte is a sign sought or a
  ;; digit.
  ;; out: where places go, four bytes each: the offset shifted left by two, and 0 word, 1 digits, 2 sign, 3 capitals.
  ;; Answers how many places there are; at most `most` are written, and then it ends early at a block's end and the
  ;; global "reached" tells where.
  (global $reached (export "reached") (mut i32) (i32.const 0))
  (func (export "scan") (param $text i32) (param $length i32) (param $hits i32) (param $deep i32) (param $signs i32) (param $out i32) (param $most i32) (result i32)
    (local $at i32) (local $n i32) (local $v v128) (local $alpha i64) (local $wide i64) (local $plain i64) (local $last i64)
    (local $starts i64) (local $bit i32) (local $word i32) (local $low v128) (local $high v128) (local $p i32) (local $hit i32)
    (local $need i32) (local $got i32) (local $w i64) (local $l i64)
    (local $case v128) (local $a v128) (local $letters v128) (local $nibble v128) (local $zero v128)
    (local.set $low (v128.load (local.get $signs)))
    (local.set $high (v128.load offset=16 (local.get $signs)))
    (local.set $case (i8x16.splat (i32.const 32)))
    (local.set $a (i8x16.splat (i32.const 97)))
    (local.set $letters (i8x16.splat (i32.const 26)))
    (local.set $nibble (i8x16.splat (i32.const 15)))
    (local.set $p (i32.load8_u (i32.sub (local.get $text) (i32.const 1))))
    (local.set $last (i64.extend_i32_u (i32.lt_u (i32.sub (i32.or (local.get $p) (i32.const 32)) (i32.const 97)) (i32.const 26))))
    (block $done
      (loop $blocks
        (br_if $done (i32.ge_u (local.get $at) (local.get $length)))
        (br_if $done (i32.gt_u (i32.add (local.get $n) (i32.const 160)) (local.get $most)))
        ;; Sixty-four bytes as rows of bits: letters of ASCII, bytes beyond it, and what is neither a digit nor a sign sought.
        (local.set $v (v128.load (i32.add (local.get $text) (local.get $at))))
        (local.set $alpha (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u (i8x16.sub (v128.or (local.get $v) (local.get $case)) (local.get $a)) (local.get $letters)))))
        (local.set $wide (i64.extend_i32_u (i8x16.bitmask (local.get $v))))
        (local.set $plain (i64.extend_i32_u (i8x16.bitmask (i8x16.eq
          (v128.and
            (i8x16.swizzle (local.get $low) (v128.and (local.get $v) (local.get $nibble)))
            (i8x16.swizzle (local.get $high) (i8x16.shr_u (local.get $v) (i32.const 4))))
          (local.get $zero)))))
        (local.set $v (v128.load offset=16 (i32.add (local.get $text) (local.get $at))))
        (local.set $alpha (i64.or (local.get $alpha) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u (i8x16.sub (v128.or (local.get $v) (local.get $case)) (local.get $a)) (local.get $letters)))) (i64.const 16))))
        (local.set $wide (i64.or (local.get $wide) (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v))) (i64.const 16))))
        (local.set $plain (i64.or (local.get $plain) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.eq
          (v128.and
            (i8x16.swizzle (local.get $low) (v128.and (local.get $v) (local.get $nibble)))
            (i8x16.swizzle (local.get $high) (i8x16.shr_u (local.get $v) (i32.const 4))))
          (local.get $zero)))) (i64.const 16))))
        (local.set $v (v128.load offset=32 (i32.add (local.get $text) (local.get $at))))
        (local.set $alpha (i64.or (local.get $alpha) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u (i8x16.sub (v128.or (local.get $v) (local.get $case)) (local.get $a)) (local.get $letters)))) (i64.const 32))))
        (local.set $wide (i64.or (local.get $wide) (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v))) (i64.const 32))))
        (local.set $plain (i64.or (local.get $plain) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.eq
          (v128.and
            (i8x16.swizzle (local.get $low) (v128.and (local.get $v) (local.get $nibble)))
            (i8x16.swizzle (local.get $high) (i8x16.shr_u (local.get $v) (i32.const 4))))
          (local.get $zero)))) (i64.const 32))))
        (local.set $v (v128.load offset=48 (i32.add (local.get $text) (local.get $at))))
        (local.set $alpha (i64.or (local.get $alpha) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.lt_u (i8x16.sub (v128.or (local.get $v) (local.get $case)) (local.get $a)) (local.get $letters)))) (i64.const 48))))
        (local.set $wide (i64.or (local.get $wide) (i64.shl (i64.extend_i32_u (i8x16.bitmask (local.get $v))) (i64.const 48))))
        (local.set $plain (i64.or (local.get $plain) (i64.shl (i64.extend_i32_u (i8x16.bitmask (i8x16.eq
          (v128.and
            (i8x16.swizzle (local.get $low) (v128.and (local.get $v) (local.get $nibble)))
            (i8x16.swizzle (local.get $high) (i8x16.shr_u (local.get $v) (i32.const 4))))
          (local.get $zero)))) (i64.const 48))))
        ;; Words: letters after no letter; a byte beyond ASCII may be one or none, so it counts both ways.
        (local.set $starts (i64.and (i64.or (local.get $alpha) (local.get $wide))
          (i64.xor (i64.or (i64.shl (local.get $alpha) (i64.const 1)) (local.get $last)) (i64.const -1))))
        (local.set $last (i64.shr_u (local.get $alpha) (i64.const 63)))
        (block $wordsDone
          (loop $words
            (br_if $wordsDone (i64.eqz (local.get $starts)))
            (local.set $bit (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (local.set $word (i32.load align=1 (i32.add (local.get $text) (local.get $bit))))
            (local.set $hit (i32.load8_u (i32.add (local.get $hits)
              (i32.shr_u (i32.mul (i32.and (local.get $word) (i32.const 0x1f1f1f1f)) (i32.const 0x9e3779b1)) (i32.const 15)))))
            ;; Which of the two bits will do: asked before the branch, which would else be guessed wrong too often.
            (local.set $need (i32.or (i32.const 1) (i32.shr_u (i32.and (i32.xor (local.get $word) (i32.const 32)) (i32.const 32)) (i32.const 4))))
            (if (i32.and (local.get $hit) (local.get $need))
              (then
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
                    (local.set $hit (i32.shr_u (local.get $hit) (i32.const 2)))
                    (loop $depths
                      (local.set $got (i32.or (local.get $got) (i32.load8_u (i32.add (local.get $deep)
                        (i32.wrap_i64 (i64.shr_u
                          (i64.mul
                            (i64.and (local.get $w) (i64.shr_u (i64.const -1)
                              (i64.extend_i32_u (i32.sub (i32.const 40) (i32.shl (i32.ctz (local.get $hit)) (i32.const 3))))))
                            (i64.const 0x9e3779b97f4a7c15))
                          (i64.const 47)))))))
                      (local.set $hit (i32.and (local.get $hit) (i32.sub (local.get $hit) (i32.const 1))))
                      (br_if $depths (local.get $hit)))
                    (local.set $need (i32.and (local.get $need) (local.get $got)))))
                (if (local.get $need)
                  (then
                    (i32.store (i32.add (local.get $out) (i32.shl (local.get $n) (i32.const 2))) (i32.shl (local.get $bit) (i32.const 2)))
                    (local.set $n (i32.add (local.get $n) (i32.const 1)))))))
            ;; Four capitals: each byte has bit 6 and not bit 5.
            (if (i32.eq (i32.and (local.get $word) (i32.const 0xe0e0e0e0)) (i32.const 0x40404040))
              (then
                (i32.store (i32.add (local.get $out) (i32.shl (local.get $n) (i32.const 2))) (i32.or (i32.shl (local.get $bit) (i32.const 2)) (i32.const 3)))
                (local.set $n (i32.add (local.get $n) (i32.const 1)))))
            (br $words)))
        (local.set $starts (i64.xor (local.get $plain) (i64.const -1)))
        (block $othersDone
          (loop $others
            (br_if $othersDone (i64.eqz (local.get $starts)))
            (local.set $bit (i32.add (local.get $at) (i32.wrap_i64 (i64.ctz (local.get $starts)))))
            (local.set $starts (i64.and (local.get $starts) (i64.sub (local.get $starts) (i64.const 1))))
            (local.set $p (i32.add (local.get $text) (local.get $bit)))
            (if (i32.lt_u (i32.sub (i32.load8_u (local.get $p)) (i32.const 48)) (i32.const 10))
              (then
                ;; Digits count where they begin.
                (br_if $others (i32.lt_u (i32.sub (i32.load8_u (i32.sub (local.get $p) (i32.const 1))) (i32.const 48)) (i32.const 10)))
                (local.set $hit (i32.const 1)))
              (else (local.set $hit (i32.const 2))))
            (i32.store (i32.add (local.get $out) (i32.shl (local.get $n) (i32.const 2))) (i32.or (i32.shl (local.get $bit) (i32.const 2)) (local.get $hit)))
            (local.set $n (i32.add (local.get $n) (i32.const 1)))
            (br $others)))
        (local.set $at (i32.add (local.get $at) (i32.const 64)))
        (br $blocks)))
    (global.set $reached (local.get $at))
    (local.get $n)))
