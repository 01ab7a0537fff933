import { expect, it, test } from 'vitest';
import fc from 'fast-check';
import { isPublicAddress, truncateAddress } from './address.ts';

test.each([
  ['192.0.2.77', '192.0.2.0'],
  ['255.255.255.255', '255.255.255.0'],
  ['2001:db8:1:2:3:4:5:6', '2001:db8:1::'],
  ['2001:db8::1', '2001:db8::'],
  ['::1', '::'],
  ['::ffff:192.0.2.77', '192.0.2.0'],
  ['2001:0:0:1::9', '2001::'],
  ['fe80::1%eth0', undefined],
  ['300.1.1.1', undefined],
  ['010.1.1.1', undefined],
  ['1.2.3', undefined],
  ['1::2::3', undefined],
  ['', undefined],
])('%s is kept as %s', (address, kept) => {
  expect(truncateAddress(address)).toBe(kept);
});

it('never keeps the last octet, and truncating twice changes nothing', () => {
  fc.assert(
    fc.property(fc.oneof(fc.ipV4(), fc.ipV6()), (address) => {
      const once = truncateAddress(address)!;
      expect(truncateAddress(once)).toBe(once);
      if (once.includes('.')) expect(once.endsWith('.0')).toBe(true);
      else expect(once.endsWith('::')).toBe(true);
    }),
  );
});

it('puts neighbours in one /24', () => {
  fc.assert(
    fc.property(fc.nat(255), fc.nat(255), fc.nat(255), fc.nat(255), fc.nat(255), (a, b, c, d, e) => {
      expect(truncateAddress(`${a}.${b}.${c}.${d}`)).toBe(truncateAddress(`${a}.${b}.${c}.${e}`));
    }),
  );
});

test.each([
  ['93.184.216.34', true],
  ['2a00:1450:4001::1', true],
  ['127.0.0.1', false],
  ['10.255.1.2', false],
  ['172.16.0.1', false],
  ['172.32.0.1', true],
  ['192.168.1.1', false],
  ['169.254.169.254', false],
  ['100.64.1.1', false],
  ['0.0.0.0', false],
  ['224.0.0.1', false],
  ['::1', false],
  ['::', false],
  ['fc00::1', false],
  ['fe80::1', false],
  ['::ffff:10.0.0.1', false],
  ['64:ff9b::7f00:1', false],
  ['2002:7f00:1::', false],
  ['2001:db8::1', false],
  ['localhost', false],
])('%s may be reached: %s', (address, open) => {
  expect(isPublicAddress(address)).toBe(open);
});
