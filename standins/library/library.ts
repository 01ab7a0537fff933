import type { IncomingMessage, ServerResponse } from 'node:http';
import { AccessStep } from '../../src/core/access/change/access-change.ts';
import { readLimited } from '../../src/server/http/read-limited.ts';
import { send } from '../answer.ts';
import { escape } from '../page.ts';
import { BookError, type LibraryBook } from './library-book.ts';

/** Where a made-up library of documents tells who may do what in the shares. */
export const LIBRARY_HOST = 'library.localhost';

const PAGE = 500;

/** Answers whoever has the token: pages of lines, and steps. */
export function library(book: LibraryBook, token: string) {
  return async (request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> => {
    const tell = (status: number, body: unknown) =>
      send(response, 'application/json', JSON.stringify(body), status);
    if (request.method === 'GET' && url.pathname === '/open')
      return send(response, 'text/html; charset=utf-8', openedPage(book, url.searchParams.get('id') ?? ''));
    if (request.headers.authorization !== `Bearer ${token}`)
      return tell(401, { error: 'This token opens nothing.' });
    if (request.method === 'GET' && url.pathname === '/estate') {
      const from = Number(url.searchParams.get('from') ?? 0);
      const { lines } = book;
      const to = from + PAGE;
      return tell(200, {
        lines: lines.slice(from, to),
        next: to < lines.length ? `/estate?from=${to}` : null,
      });
    }
    const [, id] = /^\/steps\/([^/]+)$/.exec(url.pathname) ?? [];
    if (request.method === 'PUT' && id !== undefined) {
      const body = await readLimited(
        request,
        request.headers['content-length'],
        100_000,
        'A step is shorter.',
      );
      const step = AccessStep.safeParse(JSON.parse(body.toString('utf8')));
      if (!step.success) return tell(400, { error: 'This is no step.' });
      try {
        return tell(200, { did: book.take(decodeURIComponent(id), step.data) });
      } catch (error) {
        if (!(error instanceof BookError)) throw error;
        return tell(409, { error: error.message });
      }
    }
    return tell(404, { error: 'Nothing here.' });
  };
}

/** What somebody sees who opens a place at the library itself. */
function openedPage({ lines }: LibraryBook, id: string): string {
  const place = lines.find((l) => l.type === 'place' && l.id === id);
  const name = place?.type === 'place' ? (place.name ?? id) : undefined;
  const words = name === undefined ? 'There is no such place here.' : `${name}, as the library has it.`;
  return `<!doctype html><meta charset="utf-8"><title>Share library</title><h1>Share library</h1><p>${escape(words)}</p>`;
}
