import type { Chance } from './chance.ts';

/** Numbers with valid check digits, each by the plain rule of its standard: none of it is shared with what is tested. */
export function numbersOf({ digits, pick, below, until }: Chance) {
  const two = (n: number) => String(n).padStart(2, '0');
  const weigh = (number: string, weights: readonly number[]) =>
    weights.reduce((sum, w, i) => sum + w * Number(number[i]), 0);
  const grouped = (number: string, sizes: readonly number[], by = ' ') => {
    let at = 0;
    return sizes.map((n) => number.slice(at, (at += n))).join(by);
  };
  const withLuhn = (number: string) => {
    let sum = 0;
    [...number].reverse().forEach((c, i) => {
      const twice = i % 2 === 0 ? Number(c) * 2 : Number(c);
      sum += twice > 9 ? twice - 9 : twice;
    });
    return number + String((10 - (sum % 10)) % 10);
  };
  const birth = () => ({ year: 1940 + below(65), month: 1 + below(12), day: 1 + below(28) });
  /** ISO/IEC 7064, MOD 11,10. */
  const mod1110 = (number: string) => {
    let product = 10;
    for (const c of number) {
      const sum = (Number(c) + product) % 10 || 10;
      product = (2 * sum) % 11;
    }
    return (11 - product) % 10;
  };
  const iban = (country: string, account: string) => {
    let rest = 0;
    for (const c of `${account}${country}00`)
      for (const d of /\d/.test(c) ? c : String(c.charCodeAt(0) - 55)) rest = (rest * 10 + Number(d)) % 97;
    return `${country}${two(98 - rest)}${account}`.replace(/(.{4})(?=.)/g, '$1 ');
  };
  return {
    visa: () => grouped(withLuhn(`4${digits(14)}`), [4, 4, 4, 4]),
    mastercard: () => grouped(withLuhn(`5${1 + below(5)}${digits(13)}`), [4, 4, 4, 4], '-'),
    cpr: () => {
      const { year, month, day } = birth();
      return until(() => {
        const number = `${two(day)}${two(month)}${two(year % 100)}${year >= 2000 ? 4 + below(6) : below(4)}${digits(3)}`;
        return weigh(number, [4, 3, 2, 7, 6, 5, 4, 3, 2, 1]) % 11 === 0 && grouped(number, [6, 4], '-');
      });
    },
    personnummer: () => {
      const { year, month, day } = birth();
      const number = withLuhn(`${two(year % 100)}${two(month)}${two(day)}${digits(3)}`);
      return `${Math.floor(year / 100)}${grouped(number, [6, 4], '-')}`;
    },
    nhs: () =>
      until(() => {
        const number = `4${digits(8)}`;
        const check = 11 - (weigh(number, [10, 9, 8, 7, 6, 5, 4, 3, 2]) % 11);
        return check !== 10 && grouped(`${number}${check % 11}`, [3, 3, 4]);
      }),
    nino: () =>
      `${pick(['AB', 'CE', 'JK', 'PR', 'SL'])} ${grouped(digits(6), [2, 2, 2])} ${pick(['A', 'B', 'C', 'D'])}`,
    steuerId: () =>
      until(() => {
        const number = `${1 + below(9)}${digits(9)}`;
        const counts = [...new Set(number)].map((d) => number.split(d).length - 1);
        // One digit twice, no other more than once.
        return counts.filter((n) => n > 1).join() === '2' && `${number}${mod1110(number)}`;
      }),
    kvnr: () => {
      const letter = pick(['A', 'B', 'D', 'G', 'M', 'T']);
      const serial = digits(8);
      let sum = 0;
      [...`${two(letter.charCodeAt(0) - 64)}${serial}`].forEach((c, i) => {
        const n = Number(c) * (i % 2 === 0 ? 1 : 2);
        sum += n > 9 ? n - 9 : n;
      });
      return `${letter}${serial}${sum % 10}`;
    },
    svnr: () => {
      const letter = pick(['A', 'B', 'K', 'M', 'S']);
      const { year, month, day } = birth();
      const head = `15${two(day)}${two(month)}${two(year % 100)}`;
      const serial = two(below(50));
      let sum = 0;
      [...`${head}${two(letter.charCodeAt(0) - 64)}${serial}`].forEach((c, i) => {
        const n = Number(c) * ([2, 1, 2, 5, 7, 1, 2, 1, 2, 1, 2, 1][i] as number);
        sum += Math.floor(n / 10) + (n % 10);
      });
      return `${head.slice(0, 2)} ${head.slice(2)} ${letter} ${serial}${sum % 10}`;
    },
    ibanGb: () => iban('GB', `NWBK601613${digits(8)}`),
    ibanDk: () => iban('DK', `0040${digits(10)}`),
    ibanSe: () => iban('SE', `500${digits(17)}`),
    ibanDe: () => iban('DE', `37040044${digits(10)}`),
  };
}
