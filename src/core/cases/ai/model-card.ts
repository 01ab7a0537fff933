import { parseDocument } from 'yaml';
import { z } from 'zod';
import { RefusedError } from '../../refusal.ts';

const Text = z.string().max(6000);

/** What a card tells of a model, whichever format it came in. */
export const ModelCard = z.strictObject({
  name: z.string().max(200),
  provider: z.string().max(200),
  version: z.string().max(80),
  /** Such as text-classification. */
  task: z.string().max(120),
  licence: z.string().max(120),
  languages: z.array(z.string().max(40)).max(200),
  datasets: z.array(z.string().max(300)).max(200),
  /** What it was made from. */
  base: z.string().max(300),
  measures: z
    .array(z.strictObject({ name: z.string().max(120), value: z.string().max(80), on: z.string().max(200) }))
    .max(200),
  intended: Text,
  limits: Text,
  training: Text,
  ethics: Text,
  /** How it came. */
  format: z.enum(['model card', 'CycloneDX']),
});
export type ModelCard = z.infer<typeof ModelCard>;

export const MOST_CARD = 1_000_000;

/** Reads a card: Markdown with a YAML head, or CycloneDX (ECMA-424) as JSON. Throws a RefusedError that says what is wrong. */
export function readCard(text: string): ModelCard {
  if (text.length > MOST_CARD)
    throw wrong(`It is longer than ${MOST_CARD.toLocaleString('en-GB')} characters.`);
  const plain = text.replace(/^\uFEFF/, '');
  return /^\s*\{/.test(plain) ? readBom(plain) : readMarkdownCard(plain);
}

const wrong = (message: string) => new RefusedError('The card cannot be read.', [{ field: 'card', message }]);

const cut = (text: string, most: number) => text.trim().slice(0, most);
const strings = (value: unknown): string[] =>
  (Array.isArray(value) ? value : value === undefined || value === null ? [] : [value])
    .filter((v): v is string | number => typeof v === 'string' || typeof v === 'number')
    .map(String);
const first = (value: unknown) => strings(value)[0] ?? '';
const record = (value: unknown): Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
    ? (value as Record<string, unknown>)
    : {};
const list = (value: unknown): readonly unknown[] => (Array.isArray(value) ? value : []);

const INTENDED = /^(?:intended|uses?\b|direct use|how to use|purpose|model description|description)/i;
const LIMITS = /(?:limitation|out.of.scope|risk|bias|caveat)/i;
const TRAINING = /(?:training data|dataset|training details)/i;
const ETHICS = /(?:ethic|fairness|environmental|societal)/i;

function readMarkdownCard(text: string): ModelCard {
  const parts = /^---\r?\n([\s\S]*?)\r?\n---(?:\r?\n|$)([\s\S]*)$/.exec(text);
  if (!parts)
    throw wrong('A card begins with a line of three hyphens, a head in YAML, and three hyphens again.');
  const document = parseDocument(parts[1] ?? '', { uniqueKeys: false });
  const [fault] = document.errors;
  if (fault) throw wrong(`Its head is no YAML: ${(fault.message.split('\n')[0] ?? '').slice(0, 160)}`);
  let head: Readonly<Record<string, unknown>>;
  try {
    // Names that stand for each other can make a small head endless.
    head = record(document.toJS({ maxAliasCount: 20 }));
  } catch {
    throw wrong('Its head refers to itself too often.');
  }
  const body = parts[2] ?? '';
  const sections = sectionsOf(body);
  const said = (test: RegExp) =>
    cut(
      sections
        .filter((s) => test.test(s.title))
        .map((s) => s.text)
        .filter(Boolean)
        .join('\n\n'),
      6000,
    );
  const [index] = list(head['model-index']).map(record);
  const title = sections.find((s) => s.level === 1)?.title ?? '';
  const name = first(head['model_name']) || first(index?.['name']) || title || first(head['name']);
  if (name === '') throw wrong('It names no model: a heading, model_name or model-index would do.');
  const measures = list(index?.['results'])
    .map(record)
    .flatMap((r) =>
      list(r['metrics'])
        .map(record)
        .map((m) => ({
          name: cut(first(m['name']) || first(m['type']), 120),
          value: cut(first(m['value']), 80),
          on: cut(first(record(r['dataset'])['name']), 200),
        })),
    );
  return {
    ...{ format: 'model card', name: cut(name.replace(/^model card for\s+/i, ''), 200) },
    provider: cut(first(head['provider']) || first(head['author']) || first(head['organization']), 200),
    version: cut(first(head['version']) || first(head['revision']), 80),
    task: cut(first(head['pipeline_tag']) || first(head['task']), 120),
    licence: cut(first(head['license_name']) || first(head['license']), 120),
    languages: strings(head['language'])
      .map((l) => cut(l, 40))
      .slice(0, 200),
    datasets: strings(head['datasets'])
      .map((d) => cut(d, 300))
      .slice(0, 200),
    base: cut(first(head['base_model']), 300),
    measures: measures.filter((m) => m.name !== '').slice(0, 200),
    ...{ intended: said(INTENDED), limits: said(LIMITS), training: said(TRAINING), ethics: said(ETHICS) },
  };
}

interface Section {
  readonly level: number;
  readonly title: string;
  readonly text: string;
}

function sectionsOf(body: string): readonly Section[] {
  const found: { level: number; title: string; lines: string[] }[] = [];
  let fenced = false;
  for (const line of body.split(/\r?\n/)) {
    if (/^\s*(?:```|~~~)/.test(line)) fenced = !fenced;
    const heading = fenced ? null : /^(#{1,6})\s+(.*?)\s*#*\s*$/.exec(line);
    if (heading) found.push({ level: heading[1]?.length ?? 1, title: heading[2] ?? '', lines: [] });
    else found.at(-1)?.lines.push(line);
  }
  return found.map((f) => ({
    level: f.level,
    title: f.title,
    text: f.lines
      .join('\n')
      .replace(/<!--[\s\S]*?-->/g, '')
      .trim(),
  }));
}

function readBom(text: string): ModelCard {
  let bom: Readonly<Record<string, unknown>>;
  try {
    bom = record(JSON.parse(text));
  } catch {
    throw wrong('It begins like JSON, and is none.');
  }
  if (bom['bomFormat'] !== 'CycloneDX')
    throw wrong('JSON is read as CycloneDX, and this has no bomFormat of that name.');
  const all = [record(bom['metadata'])['component'], ...list(bom['components'])].map(record);
  const model = all.find((c) => c['type'] === 'machine-learning-model');
  if (!model) throw wrong('No component of it is a machine-learning-model.');
  const card = record(model['modelCard']);
  const parameters = record(card['modelParameters']);
  const considered = record(card['considerations']);
  const names = (value: unknown) =>
    list(value)
      .map((v) => (typeof v === 'string' ? v : first(record(v)['name']) || first(record(v)['description'])))
      .filter(Boolean);
  const licences = list(model['licenses']).map((l) => {
    const { expression, license } = record(l);
    return first(expression) || first(record(license)['id']) || first(record(license)['name']);
  });
  const data = list(parameters['datasets']).map((d) => {
    const of = record(d);
    const ref = first(of['ref']);
    return first(of['name']) || first(all.find((c) => c['bom-ref'] === ref)?.['name']) || ref;
  });
  return {
    ...{ format: 'CycloneDX', name: cut(first(model['name']), 200) || 'a model without a name' },
    provider: cut(
      first(record(model['supplier'])['name']) ||
        first(record(model['manufacturer'])['name']) ||
        first(model['publisher']) ||
        first(model['group']),
      200,
    ),
    version: cut(first(model['version']), 80),
    task: cut(first(parameters['task']), 120),
    licence: cut(licences.filter(Boolean).join(', '), 120),
    languages: [],
    datasets: data
      .filter(Boolean)
      .map((d) => cut(d, 300))
      .slice(0, 200),
    base: cut(first(parameters['modelArchitecture']) || first(parameters['architectureFamily']), 300),
    measures: list(record(card['quantitativeAnalysis'])['performanceMetrics'])
      .map(record)
      .map((m) => ({
        name: cut(first(m['type']), 120),
        value: cut(first(m['value']), 80),
        on: cut(first(m['slice']), 200),
      }))
      .filter((m) => m.name !== '')
      .slice(0, 200),
    intended: cut(
      [first(model['description']), ...names(considered['useCases'])].filter(Boolean).join('\n'),
      6000,
    ),
    limits: cut(
      [...names(considered['technicalLimitations']), ...names(considered['performanceTradeoffs'])].join('\n'),
      6000,
    ),
    training: '',
    ethics: cut(
      [
        ...names(considered['ethicalConsiderations']),
        ...list(considered['fairnessAssessments']).map((f) => first(record(f)['groupAtRisk'])),
      ]
        .filter(Boolean)
        .join('\n'),
      6000,
    ),
  };
}
