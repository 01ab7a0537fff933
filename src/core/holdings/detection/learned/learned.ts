import { wilson } from '../../../interval.ts';
import { tokenize } from '../words/token.ts';

export interface Example {
  readonly name: string;
  readonly text: string;
  readonly positive: boolean;
}

export interface LearnedModel {
  readonly words: readonly string[];
  readonly weights: readonly number[];
  /** Inverse document frequencies, a word each. */
  readonly idf: readonly number[];
  readonly bias: number;
  /** Scores from it on count. */
  readonly threshold: number;
  readonly seed: number;
}

export interface CurvePoint {
  readonly threshold: number;
  readonly precision: number;
  readonly recall: number;
}

export interface Rate {
  readonly value: number;
  /** Wilson score interval, 95%. */
  readonly low: number;
  readonly high: number;
}

export interface Judgement {
  readonly precision: Rate;
  readonly recall: Rate;
  readonly f1: Rate;
  readonly falseAlarms: number;
  readonly misses: number;
}

export interface Mistake {
  readonly example: number;
  readonly name: string;
  readonly positive: boolean;
  /** Scored by a model that had not seen it. */
  readonly score: number;
}

export type Warning = {
  readonly what: 'too few' | 'too alike' | 'mislabelled' | 'leaking' | 'unbalanced';
  readonly words: string;
  readonly examples: readonly number[];
};

export interface Training {
  readonly model: LearnedModel;
  /** The score of each example by a model that had not seen it. */
  readonly scores: readonly number[];
  readonly curve: readonly CurvePoint[];
  readonly judgement: Judgement;
  readonly mistakes: readonly Mistake[];
  readonly telling: readonly { readonly word: string; readonly weight: number }[];
  readonly warnings: readonly Warning[];
}

export interface Costs {
  readonly falseAlarm: number;
  readonly miss: number;
}

const FOLDS = 5;
const EPOCHS = 24;
const MOST_FEATURES = 20_000;
const LEAST_EXAMPLES = 50;

type Vector = { readonly index: Int32Array; readonly value: Float64Array };

/**
 * Learns to tell examples from counter-examples: logistic regression over words and pairs of words, judged by scores
 * that each example got from a model that had not seen it. The same examples and seed give the same model.
 */
export function train(
  examples: readonly Example[],
  seed: number,
  costs: Costs,
  progress: (share: number) => void = () => {},
): Training {
  const yes = examples.filter((e) => e.positive).length;
  if (yes < 2 || examples.length - yes < 2)
    throw new RangeError('Two examples and two counter-examples at the least.');
  const bags = examples.map((e) => bagOf(e.text));
  const labels = examples.map((e) => (e.positive ? 1 : 0));
  const folds = foldsOf(labels, seed);
  const scores = new Array<number>(examples.length).fill(0);
  for (let f = 0; f < FOLDS; f++) {
    const inside = [...bags.keys()].filter((i) => folds[i] !== f);
    const part = fit(
      inside.map((i) => bags[i] as Bag),
      inside.map((i) => labels[i] as number),
      seed + f + 1,
    );
    for (const i of bags.keys()) if (folds[i] === f) scores[i] = scoreBag(part, bags[i] as Bag);
    progress((f + 1) / (FOLDS + 1));
  }
  const threshold = chooseThreshold(scores, labels, costs);
  const whole = fit(bags, labels, seed);
  progress(1);
  const model: LearnedModel = { ...whole, threshold, seed };
  return {
    model,
    scores,
    curve: curveOf(scores, labels),
    judgement: judge(scores, labels, threshold),
    mistakes: scores
      .map((score, example) => ({
        example,
        name: examples[example]?.name ?? '',
        positive: labels[example] === 1,
        score,
      }))
      .filter((m) => m.score >= threshold !== m.positive)
      .sort((a, b) => Math.abs(b.score - threshold) - Math.abs(a.score - threshold)),
    telling: tellingWords(model),
    warnings: warningsOf(examples, bags, labels, scores, model),
  };
}

/** A score in [0, 1]. */
export function score(model: LearnedModel, text: string): number {
  return scoreBag(model, bagOf(text));
}

/** The words of a text that moved its score most, with what each added to the log-odds. */
export function explainScore(
  model: LearnedModel,
  text: string,
  most = 12,
): readonly { readonly word: string; readonly weight: number }[] {
  const at = indexOf(model);
  const v = vectorOf(bagOf(text), at, model.idf);
  return [...v.index]
    .map((i, k) => ({
      word: model.words[i] as string,
      weight: (model.weights[i] as number) * (v.value[k] as number),
    }))
    .sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight))
    .slice(0, most);
}

type Bag = ReadonlyMap<string, number>;

/** Words and pairs of words, numbers read as their length. */
function bagOf(text: string): Bag {
  const bag = new Map<string, number>();
  const add = (w: string) => bag.set(w, (bag.get(w) ?? 0) + 1);
  let last = '';
  for (const t of tokenize(text, 0, Math.min(text.length, 200_000))) {
    const word = /^\p{N}/u.test(t.word) ? '0'.repeat(Math.min(12, t.word.length)) : t.word.slice(0, 40);
    add(word);
    if (last) add(`${last} ${word}`);
    last = word;
  }
  return bag;
}

const indexes = new WeakMap<object, ReadonlyMap<string, number>>();

function indexOf(model: Pick<LearnedModel, 'words'>): ReadonlyMap<string, number> {
  let known = indexes.get(model.words);
  if (!known) indexes.set(model.words, (known = new Map(model.words.map((w, i) => [w, i]))));
  return known;
}

function vectorOf(bag: Bag, at: ReadonlyMap<string, number>, idf: readonly number[]): Vector {
  const index: number[] = [];
  const value: number[] = [];
  let norm = 0;
  for (const [word, n] of bag) {
    const i = at.get(word);
    if (i === undefined) continue;
    const v = (1 + Math.log(n)) * (idf[i] as number);
    index.push(i);
    value.push(v);
    norm += v * v;
  }
  const scale = norm > 0 ? 1 / Math.sqrt(norm) : 0;
  return { index: Int32Array.from(index), value: Float64Array.from(value, (v) => v * scale) };
}

function fit(
  bags: readonly Bag[],
  labels: readonly number[],
  seed: number,
): Omit<LearnedModel, 'threshold' | 'seed'> {
  const df = new Map<string, number>();
  for (const bag of bags) for (const word of bag.keys()) df.set(word, (df.get(word) ?? 0) + 1);
  const words = [...df]
    .filter(([, n]) => n >= 2)
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .slice(0, MOST_FEATURES)
    .map(([w]) => w);
  const at = new Map(words.map((w, i) => [w, i]));
  const idf = words.map((w) => Math.log((1 + bags.length) / (1 + (df.get(w) as number))) + 1);
  const vectors = bags.map((b) => vectorOf(b, at, idf));
  const weights = new Float64Array(words.length);
  const squares = new Float64Array(words.length).fill(1e-8);
  let bias = 0;
  let biasSquares = 1e-8;
  const yes = labels.reduce((a, b) => a + b, 0);
  // Each side weighs as much as the other, however many there are.
  const weightOf = [labels.length / (2 * (labels.length - yes)), labels.length / (2 * yes)];
  const order = [...vectors.keys()];
  const random = chance(seed);
  for (let epoch = 0; epoch < EPOCHS; epoch++) {
    shuffle(order, random);
    for (const n of order) {
      const { index, value } = vectors[n] as Vector;
      const label = labels[n] as number;
      const error = (sigmoid(dot(weights, index, value) + bias) - label) * (weightOf[label] as number);
      for (let k = 0; k < index.length; k++) {
        const i = index[k] as number;
        const g = error * (value[k] as number) + 2e-5 * (weights[i] as number);
        squares[i] = (squares[i] as number) + g * g;
        weights[i] = (weights[i] as number) - (0.5 * g) / Math.sqrt(squares[i] as number);
      }
      biasSquares += error * error;
      bias -= (0.2 * error) / Math.sqrt(biasSquares);
    }
  }
  return { words, weights: [...weights], idf, bias };
}

function scoreBag(model: Pick<LearnedModel, 'words' | 'weights' | 'idf' | 'bias'>, bag: Bag): number {
  const { index, value } = vectorOf(bag, indexOf(model), model.idf);
  return sigmoid(dot(model.weights, index, value) + model.bias);
}

function dot(weights: ArrayLike<number>, index: Int32Array, value: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < index.length; k++)
    sum += (weights[index[k] as number] as number) * (value[k] as number);
  return sum;
}

const sigmoid = (x: number) => 1 / (1 + Math.exp(-x));

/** A generator of numbers in [0, 1) that begins where its seed says (mulberry32). */
export function chance(seed: number): () => number {
  let s = seed | 0;
  return () => {
    s = (s + 0x6d2b79f5) | 0;
    let t = Math.imul(s ^ (s >>> 15), 1 | s);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

function shuffle(list: number[], random: () => number): void {
  for (let i = list.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [list[i], list[j]] = [list[j] as number, list[i] as number];
  }
}

/** The fold of each example, both kinds spread evenly. */
function foldsOf(labels: readonly number[], seed: number): readonly number[] {
  const folds = new Array<number>(labels.length).fill(0);
  const random = chance(seed);
  for (const label of [0, 1]) {
    const mine = [...labels.keys()].filter((i) => labels[i] === label);
    shuffle(mine, random);
    for (const [n, i] of mine.entries()) folds[i] = n % FOLDS;
  }
  return folds;
}

/** Precision and recall at every threshold that changes them. */
export function curveOf(scores: readonly number[], labels: readonly number[]): readonly CurvePoint[] {
  const order = [...scores.keys()].sort((a, b) => (scores[b] as number) - (scores[a] as number));
  const yes = labels.reduce((a, b) => a + b, 0);
  const points: CurvePoint[] = [];
  let right = 0;
  for (const [n, i] of order.entries()) {
    right += labels[i] as number;
    const next = order[n + 1];
    if (next === undefined || scores[next] !== scores[i])
      points.push({ threshold: scores[i] as number, precision: right / (n + 1), recall: right / yes });
  }
  return points;
}

/** The threshold at which the errors cost least, half way to the next score. */
export function chooseThreshold(scores: readonly number[], labels: readonly number[], costs: Costs): number {
  const sorted = [...new Set(scores)].sort((a, b) => a - b);
  let best = { threshold: 0.5, cost: Infinity };
  for (let i = 0; i <= sorted.length; i++) {
    const threshold =
      i === 0
        ? (sorted[0] as number) / 2
        : i === sorted.length
          ? ((sorted[i - 1] as number) + 1) / 2
          : ((sorted[i - 1] as number) + (sorted[i] as number)) / 2;
    let cost = 0;
    for (const [n, s] of scores.entries())
      if (s >= threshold !== (labels[n] === 1)) cost += labels[n] === 1 ? costs.miss : costs.falseAlarm;
    if (
      cost < best.cost ||
      (cost === best.cost && Math.abs(threshold - 0.5) < Math.abs(best.threshold - 0.5))
    )
      best = { threshold, cost };
  }
  return best.threshold;
}

export function judge(scores: readonly number[], labels: readonly number[], threshold: number): Judgement {
  let right = 0;
  let falseAlarms = 0;
  let misses = 0;
  for (const [i, s] of scores.entries()) {
    if (s >= threshold && labels[i] === 1) right++;
    else if (s >= threshold) falseAlarms++;
    else if (labels[i] === 1) misses++;
  }
  const precision = rate(right, right + falseAlarms);
  const recall = rate(right, right + misses);
  const f = (p: number, r: number) => (p + r === 0 ? 0 : (2 * p * r) / (p + r));
  return {
    precision,
    recall,
    f1: {
      value: f(precision.value, recall.value),
      low: f(precision.low, recall.low),
      high: f(precision.high, recall.high),
    },
    falseAlarms,
    misses,
  };
}

function rate(k: number, n: number): Rate {
  const share = wilson(k, n);
  return share ? { value: share.share, low: share.low, high: share.high } : { value: 0, low: 0, high: 1 };
}

function tellingWords(model: LearnedModel): readonly { readonly word: string; readonly weight: number }[] {
  const all = model.words
    .map((word, i) => ({ word, weight: model.weights[i] as number }))
    .sort((a, b) => b.weight - a.weight);
  return [...all.slice(0, 20), ...all.slice(-20)];
}

function warningsOf(
  examples: readonly Example[],
  bags: readonly Bag[],
  labels: readonly number[],
  scores: readonly number[],
  model: LearnedModel,
): readonly Warning[] {
  const warnings: Warning[] = [];
  const yes = labels.reduce((a, b) => a + b, 0);
  const no = labels.length - yes;
  if (yes < LEAST_EXAMPLES || no < LEAST_EXAMPLES)
    warnings.push({
      what: 'too few',
      words: `${yes} examples and ${no} counter-examples; from ${LEAST_EXAMPLES} of each on its figures can be relied on`,
      examples: [],
    });
  if (Math.max(yes, no) > 4 * Math.min(yes, no))
    warnings.push({
      what: 'unbalanced',
      words: 'One side has more than four times as many as the other',
      examples: [],
    });
  const pairs = alikePairs(bags);
  const same = pairs.filter(([a, b]) => labels[a] === labels[b]);
  const across = pairs.filter(([a, b]) => labels[a] !== labels[b]);
  const distinct = (all: readonly (readonly [number, number])[]) => [...new Set(all.flat())];
  if (distinct(same).length > examples.length * 0.1)
    warnings.push({
      what: 'too alike',
      words: `${distinct(same).length} examples are nearly the same as another: they teach nothing new, and flatter the figures`,
      examples: distinct(same).slice(0, 200),
    });
  if (across.length > 0)
    warnings.push({
      what: 'leaking',
      words: `${distinct(across).length} texts stand among examples and counter-examples alike`,
      examples: distinct(across).slice(0, 200),
    });
  const alone = model.words.filter((w) => {
    const inYes = bags.filter((b, i) => labels[i] === 1 && b.has(w)).length;
    return inYes === yes && !bags.some((b, i) => labels[i] === 0 && b.has(w));
  });
  if (alone.length > 0)
    warnings.push({
      what: 'leaking',
      words: `“${alone[0]}” stands in every example and in no counter-example: is it the matter, or only how they were gathered?`,
      examples: [],
    });
  const wrong = [...scores.keys()].filter((i) =>
    labels[i] === 1 ? (scores[i] as number) < 0.1 : (scores[i] as number) > 0.9,
  );
  if (wrong.length > 0)
    warnings.push({
      what: 'mislabelled',
      words: `${wrong.length} ${wrong.length === 1 ? 'looks' : 'look'} like the other side`,
      examples: wrong,
    });
  return warnings;
}

/** Pairs of texts that share nine tenths of their pairs of words, by sketches of their least hashes. */
function alikePairs(bags: readonly Bag[]): readonly (readonly [number, number])[] {
  const sketches = bags.map((bag) => {
    const hashes: number[] = [];
    for (const w of bag.keys()) {
      if (!w.includes(' ')) continue;
      let h = 0x811c9dc5;
      for (let i = 0; i < w.length; i++) h = Math.imul(h ^ w.charCodeAt(i), 0x01000193);
      hashes.push(h >>> 0);
    }
    return Uint32Array.from(hashes).sort().subarray(0, 64);
  });
  const pairs: [number, number][] = [];
  for (let a = 0; a < sketches.length; a++)
    for (let b = a + 1; b < sketches.length && pairs.length < 5000; b++) {
      const [x, y] = [sketches[a] as Uint32Array, sketches[b] as Uint32Array];
      if (x.length < 5 || (x[0] !== y[0] && x[1] !== y[1] && x[0] !== y[1] && x[1] !== y[0])) continue;
      let common = 0;
      for (let i = 0, j = 0; i < x.length && j < y.length;) {
        if (x[i] === y[j]) common++;
        if ((x[i] as number) <= (y[j] as number)) i++;
        else j++;
      }
      if (common / Math.max(x.length, y.length) >= 0.85) pairs.push([a, b]);
    }
  return pairs;
}
