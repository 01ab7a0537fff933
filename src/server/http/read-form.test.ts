import { expect, it } from 'vitest';
import { RefusedError } from '../../core/refusal.ts';
import { readForm } from './read-form.ts';

const sent = (body: BodyInit, headers: Record<string, string> = {}) =>
  new Request('http://desk.example/report', { method: 'POST', body, headers });
const refused = async (work: Promise<unknown>) =>
  work.then(
    () => 0,
    (e: unknown) => (e instanceof RefusedError ? e.status : -1),
  );

it('has the fields and the files that were chosen', async () => {
  const form = new FormData();
  form.set('title', 'Ærø <b>');
  form.set('proof', new File(['%PDF-1.7'], '../a.pdf'));
  form.set('none', new File([], ''));
  const { fields, files } = await readForm(sent(form), 5000);
  expect(fields).toMatchObject({ title: 'Ærø <b>' });
  expect([...files.keys()]).toEqual(['proof']);
  expect(Buffer.from(files.get('proof')?.bytes ?? []).toString()).toBe('%PDF-1.7');
});

it('reads what a page without script sends', async () => {
  expect((await readForm(sent(new URLSearchParams({ title: 'a b', kind: 'other' })), 500)).fields).toEqual({
    ...{ title: 'a b', kind: 'other' },
  });
});

it('refuses what is longer than it takes, whether it says so or not', async () => {
  expect(await refused(readForm(sent(new URLSearchParams({ words: 'x'.repeat(600) })), 500))).toBe(413);
  const lies = sent(new URLSearchParams({ words: 'x'.repeat(600) }), { 'content-length': '10' });
  expect(await refused(readForm(lies, 500))).toBe(413);
});

it.each(['application/json', 'multipart/form-data', ''])('refuses what is no form: %j', async (type) => {
  expect(await refused(readForm(sent('{"a":1}', { 'content-type': type }), 500))).toBe(400);
});
