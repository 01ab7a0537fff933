import { expect, it } from 'vitest';
import { signatureBase, signatureParams } from './message-signature.ts';

const PARTS = {
  method: 'POST',
  target: 'https://house.example/hooks?from=yare',
  digest: 'sha-256=:X48E9qOokqqrvdts8nOJRJN3OWDUoyWxBf7kbu9DBPE=:',
  id: '"sweep 12"',
  created: 1_795_000_000,
  keyId: 'hook-3',
};

it('is a line for each part, and the parameters last', () => {
  expect(signatureBase(PARTS)).toBe(
    `"@method": POST
"@target-uri": https://house.example/hooks?from=yare
"content-digest": sha-256=:X48E9qOokqqrvdts8nOJRJN3OWDUoyWxBf7kbu9DBPE=:
"idempotency-key": "sweep 12"
"@signature-params": ("@method" "@target-uri" "content-digest" "idempotency-key");created=1795000000;keyid="hook-3";alg="hmac-sha256"`,
  );
  expect(signatureBase(PARTS)).toContain(signatureParams(PARTS));
});

it('refuses a part that would start a line of its own', () => {
  expect(() => signatureBase({ ...PARTS, target: 'https://x.example/\n"@method": GET' })).toThrow(RangeError);
});
