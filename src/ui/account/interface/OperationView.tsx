import { useState } from 'react';
import { Button } from '../../parts/Button.tsx';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { schemaWords, type Operation, type Schema } from './use-interface.ts';
import css from './interface.module.css';

interface Answered {
  readonly status: string;
  readonly text: string;
}

const MOST_SHOWN = 20_000;

/** One operation: what it takes, what it answers, and a trial of it as oneself. */
export function OperationView({
  operation,
  schemas,
}: {
  readonly operation: Operation;
  readonly schemas: Readonly<Record<string, Schema>>;
}) {
  const { method, path, summary, needs, body, answer } = operation;
  const parameters = operation.parameters.filter((p) => p.in !== 'header');
  const [values, setValues] = useState<Readonly<Record<string, string>>>({});
  const [sent, setSent] = useState(() => (body === undefined ? '' : begun(body)));
  const [problem, setProblem] = useState('');
  const [answered, setAnswered] = useState<Answered>();
  const missing = parameters.find((p) => p.in === 'path' && !values[p.name]?.trim());
  const ask = async () => {
    setProblem('');
    if (body !== undefined && !isJson(sent)) return setProblem('This is no JSON.');
    const url = new URL(
      path.replace(/\{([^}]+)\}/g, (_all, name: string) => encodeURIComponent(values[name] ?? '')),
      location.origin,
    );
    for (const p of parameters)
      if (p.in === 'query' && values[p.name]) url.searchParams.set(p.name, values[p.name] ?? '');
    const begin = performance.now();
    try {
      const response = await fetch(url, {
        method,
        ...(body === undefined ? {} : { body: sent, headers: { 'content-type': 'application/json' } }),
      });
      const text = await response.text();
      const took = Math.round(performance.now() - begin);
      setAnswered({
        status: `${response.ok ? '○' : '◆'} ${response.status}, ${text.length.toLocaleString('en')} characters in ${took} ms`,
        text: (isJson(text) ? JSON.stringify(JSON.parse(text), null, 2) : text).slice(0, MOST_SHOWN),
      });
    } catch {
      setAnswered({ status: '◆ The desk’s server does not answer.', text: '' });
    }
  };
  return (
    <section className={css['open']} aria-label={`${method} ${path}`}>
      <h2>
        <b>{method}</b> <code>{path}</code>
      </h2>
      <p>
        {summary}
        {needs && !summary.includes(needs) && <small> It takes {needs}.</small>}
      </p>
      {parameters.length > 0 && (
        <FigureTable
          columns={['Parameter', 'What it is', 'Value']}
          rows={parameters.map((p) => ({
            key: p.name,
            cells: [
              <code>
                {p.name}
                {p.required ? '' : '?'}
              </code>,
              schemaWords(p.schema, schemas),
              <input
                aria-label={p.name}
                value={values[p.name] ?? ''}
                onChange={(e) => setValues({ ...values, [p.name]: e.target.value })}
              />,
            ],
          }))}
        />
      )}
      {body !== undefined && (
        <Field label="Body" hint={schemaWords(body, schemas)} error={problem || undefined}>
          <textarea rows={6} spellCheck={false} value={sent} onChange={(e) => setSent(e.target.value)} />
        </Field>
      )}
      <p className={css['answer']}>
        <small>It answers {answer === undefined ? 'with a file' : schemaWords(answer, schemas)}</small>
      </p>
      <p>
        <Button kind="primary" disabled={missing !== undefined} onClick={() => void ask()}>
          {method === 'GET' ? 'Ask it' : 'Send it, as you'}
        </Button>{' '}
        {missing && <small>Give {missing.name} first.</small>}
      </p>
      {answered && (
        <div role="status">
          <p>{answered.status}</p>
          <pre tabIndex={0} aria-label="Answer">
            {answered.text}
          </pre>
        </div>
      )}
    </section>
  );
}

function isJson(text: string): boolean {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
}

/** What is required, with a value of its kind. */
function begun(schema: Schema): string {
  if (typeof schema === 'boolean') return '{}';
  const properties = (schema['properties'] ?? {}) as Readonly<Record<string, Schema>>;
  const required = (schema['required'] as readonly string[] | undefined) ?? [];
  return JSON.stringify(
    Object.fromEntries(required.map((name) => [name, exampleOf(properties[name])])),
    null,
    2,
  );
}

function exampleOf(schema: Schema | undefined): unknown {
  if (schema === undefined || typeof schema === 'boolean') return null;
  if (schema['const'] !== undefined) return schema['const'];
  if (Array.isArray(schema['enum'])) return schema['enum'][0];
  switch (schema['type']) {
    case 'string':
      return '';
    case 'number':
    case 'integer':
      return 0;
    case 'boolean':
      return false;
    case 'array':
      return [];
    case 'object':
      return {};
    default:
      return null;
  }
}
