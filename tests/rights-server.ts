import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { directory, type DirectoryBook } from '../standins/directory/directory.ts';
import { library } from '../standins/library/library.ts';
import { LibraryBook, type LibraryLine } from '../standins/library/library-book.ts';

export const TOKEN = 'opens-made-up-rights-alone';

type Answer = (request: IncomingMessage, response: ServerResponse, url: URL) => Promise<void>;

/** A made-up directory and a library on a free port, below `/people` and `/rights`; what they hold can be put anew. */
export class RightsServer {
  readonly #folder = mkdtempSync(join(tmpdir(), 'yare-rights-'));
  #server: Server | undefined;
  #directory: Answer | undefined;
  #library: Answer | undefined;
  book: LibraryBook | undefined;
  /** Answers instead of the stand-ins, once it is set; by the number of the request since. */
  breaks: ((n: number, response: ServerResponse) => boolean) | undefined;
  #asked = 0;

  people(book: DirectoryBook): void {
    const file = join(this.#folder, 'directory.json');
    writeFileSync(file, JSON.stringify(book));
    this.#directory = directory(file, TOKEN);
  }

  rights(lines: readonly LibraryLine[]): void {
    const file = join(this.#folder, 'library.json');
    rmSync(`${file}.steps`, { force: true });
    LibraryBook.write(file, lines);
    this.book = new LibraryBook(file);
    this.#library = library(this.book, TOKEN);
  }

  async start(): Promise<void> {
    const server = createServer((request, response) => {
      const url = new URL(request.url ?? '/', 'http://localhost');
      if (this.breaks?.(this.#asked++, response)) return;
      const [, what, rest] = /^\/(people|rights)(\/.*)$/.exec(url.pathname) ?? [];
      const answer = what === 'people' ? this.#directory : this.#library;
      const within = new URL(`${rest ?? '/'}${url.search}`, 'http://localhost');
      void answer?.(request, this.#withBase(response, what ?? ''), within).catch(() => response.destroy());
    });
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
    this.#server = server;
  }

  /** The stand-ins lie at the top of their hosts; here their next pages lie below a folder. */
  #withBase(response: ServerResponse, what: string): ServerResponse {
    const end = response.end.bind(response) as (body?: unknown) => ServerResponse;
    response.end = ((body?: unknown) =>
      end(typeof body === 'string' ? body.replace('"next":"/', `"next":"/${what}/`) : body)) as never;
    return response;
  }

  get port(): number {
    return (this.#server?.address() as AddressInfo).port;
  }

  url(what: 'people' | 'rights'): string {
    return `http://127.0.0.1:${this.port}/${what}`;
  }

  async stop(): Promise<void> {
    this.#server?.closeAllConnections();
    await new Promise((done) => this.#server?.close(done));
    rmSync(this.#folder, { recursive: true, force: true });
  }
}

/** A directory of some people in groups. */
export function peopleBook(
  people: readonly string[],
  groups: Readonly<Record<string, readonly string[]>>,
): DirectoryBook {
  return {
    users: people.map((id) => ({
      ...{ id, userName: `${id}@line.example`, displayName: id.toUpperCase(), active: true },
      emails: [{ value: `${id}@line.example`, primary: true as const }],
    })),
    groups: Object.entries(groups).map(([id, members]) => ({
      ...{ id, displayName: `Group ${id}`, members: members.map((value) => ({ value })) },
    })),
  };
}

export function place(id: string, more: Partial<Extract<LibraryLine, { type: 'place' }>> = {}): LibraryLine {
  const cut = id.lastIndexOf('/');
  return {
    ...{
      type: 'place',
      id,
      source: 'share',
      name: id.slice(cut + 1),
      inherits: true,
      gate: false,
      owner: null,
    },
    parent: cut < 0 ? null : id.slice(0, cut),
    ...more,
  };
}

export function grant(
  at: string,
  to: string,
  strength: 'see' | 'read' | 'change' | 'give',
  more = {},
): LibraryLine {
  return {
    ...{
      type: 'grant',
      place: at,
      to,
      strength,
      deny: false,
      only: false,
      until: null,
      by: 'magnus',
      at: null,
    },
    ...more,
  };
}
