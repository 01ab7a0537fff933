import { describe, expect, it } from 'vitest';
import {
  chance,
  chooseThreshold,
  curveOf,
  explainScore,
  judge,
  score,
  train,
  type Example,
} from './learned.ts';

const YES = [
  'klage',
  'refusion',
  'vred',
  'forsinket',
  'complaint',
  'refund',
  'angry',
  'late',
  'Beschwerde',
  'Erstattung',
  'verärgert',
  'verspätet',
];
const NO = [
  'menu',
  'suppe',
  'middag',
  'dinner',
  'soup',
  'kitchen',
  'Speisekarte',
  'Abendessen',
  'Küche',
  'anchor',
  'tide',
  'chart',
];
const BOTH = [
  'the',
  'ship',
  'og',
  'und',
  'passenger',
  'cabin',
  'quay',
  'deck',
  'today',
  'heute',
  'i',
  'dag',
  'crew',
  'crossing',
];

function examples(n: number, seed: number): Example[] {
  const random = chance(seed);
  const pick = (list: readonly string[]) => list[Math.floor(random() * list.length)] as string;
  return Array.from({ length: n }, (_, i) => {
    const positive = i % 2 === 0;
    const own = positive ? YES : NO;
    const text = Array.from({ length: 30 }, () => (random() < 0.25 ? pick(own) : pick(BOTH))).join(' ');
    return { name: `${i}`, text, positive };
  });
}

describe('a learned detector', () => {
  const training = train(examples(160, 5), 1, { falseAlarm: 1, miss: 1 });

  it('tells the two apart in several languages, on texts it has not seen', () => {
    expect(training.judgement.f1.value).toBeGreaterThan(0.95);
    for (const e of examples(60, 99))
      expect(score(training.model, e.text) >= training.model.threshold, e.text).toBe(e.positive);
    const { low, value, high } = training.judgement.precision;
    expect(low).toBeLessThan(value);
    expect(high).toBeGreaterThanOrEqual(value);
  });

  it('is the same from the same seed', () => {
    expect(train(examples(160, 5), 1, { falseAlarm: 1, miss: 1 })).toEqual(training);
    expect(train(examples(160, 5), 2, { falseAlarm: 1, miss: 1 }).model.weights).not.toEqual(
      training.model.weights,
    );
  });

  it('says which words weigh most, in all and in one text', () => {
    const words = training.telling.slice(0, 8).map((t) => t.word);
    expect(words.some((w) => YES.map((y) => y.toLowerCase()).includes(w))).toBe(true);
    expect(explainScore(training.model, 'eine Beschwerde und suppe')[0]?.word).toMatch(/beschwerde|suppe/);
  });

  it('warns of too few, too alike, mislabelled and leaking examples', () => {
    const what = (list: readonly Example[]) =>
      train(list, 1, { falseAlarm: 1, miss: 1 }).warnings.map((w) => w.what);
    expect(what(examples(20, 3))).toContain('too few');
    const copied = examples(120, 3);
    expect(what([...copied.slice(0, 100), ...copied.slice(0, 20)])).toContain('too alike');
    expect(what([...copied, ...copied.slice(0, 4).map((e) => ({ ...e, positive: !e.positive }))])).toContain(
      'leaking',
    );
    expect(what(copied.map((e) => (e.positive ? { ...e, text: `${e.text} Aktenzeichen` } : e)))).toContain(
      'leaking',
    );
    const turned = copied.map((e, i) => (i === 10 ? { ...e, positive: false } : e));
    expect(train(turned, 1, { falseAlarm: 1, miss: 1 }).mistakes.map((m) => m.name)).toContain('10');
  });
});

describe('its figures', () => {
  const scores = [0.9, 0.8, 0.7, 0.4, 0.3, 0.1];
  const labels = [1, 1, 0, 1, 0, 0];

  it('are those that can be counted by hand', () => {
    expect(judge(scores, labels, 0.5)).toMatchObject({
      falseAlarms: 1,
      misses: 1,
      precision: { value: 2 / 3 },
      recall: { value: 2 / 3 },
    });
    expect(curveOf(scores, labels).map((p) => [p.precision, p.recall])).toEqual([
      [1, 1 / 3],
      [1, 2 / 3],
      [2 / 3, 2 / 3],
      [3 / 4, 1],
      [3 / 5, 1],
      [1 / 2, 1],
    ]);
  });

  it('follow what each error costs', () => {
    expect(chooseThreshold(scores, labels, { falseAlarm: 10, miss: 1 })).toBeCloseTo(0.75, 6);
    expect(chooseThreshold(scores, labels, { falseAlarm: 1, miss: 10 })).toBeCloseTo(0.35, 6);
  });
});
