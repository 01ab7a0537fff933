import { z } from 'zod';
import { EstateLine } from '../../../core/access/estate/estate-line.ts';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import { nextPage } from '../../http/ask-json.ts';
import { asReaderError, type TokenServer } from './http-reader.ts';
import { ReaderError, StepRefused, type AccessReader, type SourceLine } from './reader.ts';

const Page = z.object({ lines: z.array(z.unknown()).max(10_000), next: z.string().nullish() });
const Use = z.strictObject({
  type: z.literal('use'),
  person: z.string().min(1).max(400),
  place: z.string().min(1).max(400),
  day: z.iso.date(),
});
const Told = z.object({ did: z.enum(['done', 'already']) });
const Refused = z.object({ error: z.string().max(500) });
const MOST_PAGES = 20_000;

/** A library of documents that serves its estate in pages and takes steps, as docs/library-interface.md says. */
export function libraryReader(server: TokenServer): AccessReader {
  return {
    async *lines(signal) {
      const first = new URL('estate', server.base);
      const asked = new Set<string>();
      for (let url = first; ;) {
        signal.throwIfAborted();
        asked.add(url.href);
        const { status, body } = await server.ask(url);
        if (status !== 200) throw new ReaderError(`${url.host} answered ${status} instead of a page.`);
        const page = Page.safeParse(body);
        if (!page.success)
          throw new ReaderError(`${url.host} answers, but with no page: that has “lines” and “next”.`);
        for (const line of page.data.lines) yield lineOf(line);
        const { next } = page.data;
        if (!next) return;
        url = nextOf(first, url, next);
        if (asked.has(url.href)) throw new ReaderError('Its pages lead in a circle.');
        if (asked.size >= MOST_PAGES) throw new ReaderError(`It has more than ${MOST_PAGES} pages.`);
      }
    },
    async apply(id: string, step: AccessStep) {
      const { status, body } = await server.ask(`steps/${encodeURIComponent(id)}`, {
        method: 'PUT',
        body: step,
      });
      if (status === 200) return Told.parse(body).did;
      const why = Refused.safeParse(body).data?.error ?? `the library answered ${status}`;
      throw new StepRefused(why, status >= 500 || status === 429);
    },
    close: () => Promise.resolve(),
  };
}

function nextOf(first: URL, from: URL, next: string): URL {
  try {
    return nextPage(first, from, next);
  } catch (error) {
    return asReaderError(error);
  }
}

/** A line as somebody else wrote it. */
export function lineOf(value: unknown): SourceLine {
  const use = Use.safeParse(value);
  if (use.success) return { use: use.data };
  const line = EstateLine.safeParse(value);
  if (line.success) return { line: line.data };
  const [issue] = line.error.issues;
  const id = (value as { id?: unknown } | null)?.id;
  return {
    fault: `${typeof id === 'string' ? `“${id.slice(0, 80)}”: ` : ''}${issue?.path.join('.') || 'line'}: ${issue?.message ?? 'It cannot be read.'}`,
  };
}
