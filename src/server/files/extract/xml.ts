import { SaxesParser } from 'saxes';
import { TextBuilder, UnreadableError, type Extracted, type Limits } from './extracted.ts';
import { fieldName } from './field-name.ts';
import { LabelledValue } from './labelled-value.ts';

/** Element text and attributes, each under its name. */
export function extractXml(xml: string, limits: Limits): Extracted {
  const out = new TextBuilder(limits);
  const elements: XmlElement[] = [];
  walkXml(xml, {
    open: (name, attributes, line) => {
      const parent = elements.at(-1);
      const of = local(name);
      const count = (parent?.children.get(of) ?? 0) + 1;
      parent?.children.set(of, count);
      const element: XmlElement = {
        name: of,
        path: `${parent?.path ?? ''}/${of}${count > 1 ? `[${count}]` : ''}`,
        record: out.records++,
        children: new Map(),
        labelled: new LabelledValue(out.segments),
        label: GENERIC.test(of) ? labelOf(attributes) : undefined,
      };
      elements.push(element);
      for (const [key, value] of Object.entries(attributes)) {
        if (key.startsWith('xmlns')) continue;
        const isLabel = value === element.label;
        const heading = isLabel
          ? 'label'
          : (/^value$/i.test(key) && element.label) || fieldName(local(key), of);
        out.add(
          value,
          { role: 'attribute', line, path: `${element.path}/@${key}` },
          { heading, record: element.record },
        );
        out.gap('\n');
      }
    },
    text: (text, line) => {
      const value = text.trim();
      const element = elements.at(-1);
      if (value === '' || !element) return;
      // Fields that stand side by side belong to the element around them.
      const around = elements.at(-2) ?? element;
      const within = elements.length > 2 ? around.name : undefined;
      const heading =
        element.label ?? around.labelled.labelOf(element.name) ?? fieldName(element.name, within);
      const place = { line: line - newlines(text.trimStart()), path: element.path };
      out.add(value, place, { heading, record: around.record });
      around.labelled.add(element.name, value);
      out.gap('\n');
    },
    close: () => {
      elements.pop();
    },
    comment: (text, line) => {
      out.add(text.trim(), { role: 'comment', line: line - newlines(text.trimStart()) });
      out.gap('\n');
    },
  });
  return out.done('XML');
}

interface XmlElement {
  readonly name: string;
  readonly path: string;
  readonly record: number;
  /** How many there were so far, by name. */
  readonly children: Map<string, number>;
  readonly labelled: LabelledValue;
  /** What its attributes say it holds, where its own name says nothing. */
  readonly label: string | undefined;
}

const GENERIC =
  /^(?:field|property|item|entry|value|attribute|param|parameter|data|column|col|cell|element|option|meta|pair|datum|string|simplefield|input)$/i;

function labelOf(attributes: Readonly<Record<string, string>>): string | undefined {
  for (const name of ['label', 'name', 'key', 'field', 'column', 'title', 'id'])
    if (/\p{L}/u.test(attributes[name] ?? '')) return attributes[name];
  return undefined;
}

const newlines = (text: string) => text.split('\n').length - 1;

const local = (name: string) => name.slice(name.indexOf(':') + 1);

export interface XmlHandler {
  /** Lines are those where what is told ends, from 1. */
  open?(name: string, attributes: Readonly<Record<string, string>>, line: number): void;
  text?(text: string, line: number): void;
  close?(name: string): void;
  comment?(text: string, line: number): void;
}

/** Walks XML without entities of its own making; throws an UnreadableError where it is broken. */
export function walkXml(xml: string, handler: XmlHandler): void {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw new UnreadableError('damaged', `Its XML is broken: ${error.message}`);
  });
  parser.on('opentag', (tag) =>
    handler.open?.(tag.name, tag.attributes as Record<string, string>, parser.line),
  );
  parser.on('text', (text) => handler.text?.(text, parser.line));
  parser.on('cdata', (text) => handler.text?.(text, parser.line));
  parser.on('comment', (text) => handler.comment?.(text, parser.line));
  parser.on('closetag', (tag) => handler.close?.(tag.name));
  if (xml !== '') parser.write(xml).close();
}
