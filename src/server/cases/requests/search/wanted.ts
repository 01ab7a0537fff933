import type { Subject } from '../../../../core/cases/requests/person/subject.ts';
import { digitsOf } from '../../../../core/text/mask.ts';
import type { PersonWanted } from '../../../holdings/offers.ts';

/** By what items are looked for, in the ways their keyed hashes may have been made. */
export function wantedOf(s: Subject): PersonWanted {
  const names = [s.name, ...s.otherNames].filter((n) => n.includes(' '));
  const turned = names.map((n) => n.split(/\s+/)).map((w) => [w.at(-1), ...w.slice(0, -1)].join(' '));
  const [year = '', month = '', day = ''] = s.born.split('-');
  const births = [
    s.born,
    `${day}.${month}.${year}`,
    `${month}/${day}/${year}`,
    `${Number(day)}/${Number(month)}/${year}`,
  ];
  return {
    values: [...s.emails, ...s.numbers],
    names: [...new Set([...names, ...turned])],
    births: s.born === '' ? [] : births,
    others: s.phones.flatMap((p) => {
      const digits = digitsOf(p);
      return [p, digits, digits.replace(/^00/, ''), digits.replace(/^0/, '')];
    }),
  };
}
