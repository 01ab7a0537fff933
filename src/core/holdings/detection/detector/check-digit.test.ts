import fc from 'fast-check';
import { isValidIBAN } from 'ibantools';
import validator from 'validator';
import { describe, expect, it } from 'vitest';
import { checkDigit, IBAN_LENGTHS, luhn, mod97, mrzDigit } from './check-digit.ts';
import { Engine } from '../engine/engine.ts';
import { BUILT_INS, builtInDetectors } from '../library/library.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const stands = (by: string, value: string) => checkDigit(by)?.(value);
const digits = (n: number) => fc.stringMatching(new RegExp(`^\\d{${n}}$`));

describe('check digits against libraries of others', () => {
  it('IBAN: the same verdict on any number, with a right and a wrong check', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...Object.keys(IBAN_LENGTHS)),
        fc.stringMatching(/^\d{40}$/),
        fc.integer({ min: 0, max: 99 }),
        (country, d, wrong) => {
          const body = d.slice(0, (IBAN_LENGTHS[country] as number) - 4);
          const check = String(98 - mod97(`${body}${country}00`)).padStart(2, '0');
          expect(stands('IBAN', country + check + body)).toBe(true);
          const other = String(wrong).padStart(2, '0');
          if (other !== check && (Number(other) - Number(check)) % 97 !== 0)
            expect(stands('IBAN', country + other + body)).toBe(false);
        },
      ),
    );
    for (const iban of [
      'GB82WEST12345698765432',
      'DE89370400440532013000',
      'FR1420041010050500013M02606',
      'MT84MALT011000012345MTLCAST001S',
      'NO9386011117947',
    ]) {
      expect(isValidIBAN(iban)).toBe(true);
      expect(stands('IBAN', iban)).toBe(true);
      const changed = iban.slice(0, -1) + (iban.endsWith('0') ? '1' : '0');
      expect(stands('IBAN', changed)).toBe(isValidIBAN(changed));
    }
  });

  it('cards: Luhn as `validator` has it, on valid and invalid numbers', () => {
    fc.assert(
      fc.property(digits(15), fc.integer({ min: 0, max: 9 }), (d, last) => {
        expect(luhn(d + last)).toBe(validator.isLuhnNumber(d + last));
      }),
    );
    for (const card of [
      '4111111111111111',
      '5500000000000004',
      '340000000000009',
      '30000000000004',
      '6011000000000004',
      '3530111333300000',
      '4222222222222',
      '2223003122003222',
    ]) {
      expect(validator.isCreditCard(card), card).toBe(true);
      expect(stands('card', card), card).toBe(true);
    }
    expect(stands('card', '0000000000000000')).toBe(false);
  });

  it('IP addresses and VINs as others have them', () => {
    fc.assert(
      fc.property(fc.ipV4(), (ip) => {
        expect(stands('IPv4', ip)).toBe(validator.isIP(ip, 4));
      }),
    );
    fc.assert(
      fc.property(
        fc.ipV6().filter((ip) => !ip.includes('.') && ip !== '::'),
        (ip) => {
          expect(stands('IPv6', ip)).toBe(validator.isIP(ip, 6));
        },
      ),
    );
    expect(stands('VIN', '1M8GDM9AXKP042788')).toBe(true);
    expect(stands('VIN', '1M8GDM9AXKP042789')).toBe(false);
  });

  it('the machine-readable zone of ICAO’s own specimen', () => {
    expect(mrzDigit('520727')).toBe(3);
    expect(mrzDigit('AB2134<<<')).toBe(5);
    expect(
      stands(
        'MRZ',
        'P<UTOERIKSSON<<ANNA<MARIA<<<<<<<<<<<<<<<<<<<\nL898902C36UTO7408122F1204159ZE184226B<<<<<10',
      ),
    ).toBe(true);
  });
});

describe('a number with a check digit', () => {
  const engine = new Engine(builtInDetectors());
  const around = fc
    .array(
      fc.constantFrom(
        'the',
        'ship',
        'og',
        'sejler',
        '12',
        '2026-11-23',
        'kr',
        '(a)',
        'Kai',
        '4711',
        '\n',
        ';',
        '“x”',
      ),
      { maxLength: 12 },
    )
    .map((w) => w.join(' '));
  // One changed digit is always caught by these.
  const strict = [
    'payment-card',
    'iban',
    'se-personnummer',
    'fi-hetu',
    'pl-pesel',
    'be-rijksregisternummer',
    'fr-nir',

    'ch-ahv',
    'hr-oib',
    'gb-nhs',
    'imei',
  ];

  it.each(strict)('%s is found in any text, and lost when one digit changes', (id) => {
    const [example = ''] = BUILT_INS.find((b) => b.id === id)?.examples ?? [];
    const label = example.slice(0, example.indexOf('⟦'));
    const value = example.slice(example.indexOf('⟦') + 1, example.indexOf('⟧'));
    const places = [...value.matchAll(/\d/g)].map((m) => m.index);
    fc.assert(
      fc.property(
        around,
        around,
        fc.nat(places.length - 1),
        fc.integer({ min: 1, max: 9 }),
        (before, after, which, by) => {
          const at = places[which] as number;
          const changed = value.slice(0, at) + String((Number(value[at]) + by) % 10) + value.slice(at + 1);
          const found = (v: string) => {
            const text = `${before}\n${label}${v}\n${after}`;
            return engine
              .detect({ text, segments: [] })
              .findings.some((f) => f.detector === id && text.slice(f.start, f.end) === v);
          };
          expect(found(value)).toBe(true);
          expect(found(changed)).toBe(false);
        },
      ),
      runs(40),
    );
  });
});
