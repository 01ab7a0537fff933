import { createServer, type Server } from 'node:http';
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { mkdir, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ImapFlow } from 'imapflow';
import mysql from 'mysql2/promise';
import { freePorts } from '../../launcher/free-port.ts';
import { startMariadb, type OwnDatabase } from '../../launcher/mariadb.ts';
import {
  USUAL_SOURCE,
  type SourceAddress,
  type SourceContent,
} from '../../src/core/holdings/sources/source.ts';
import { connect } from '../../src/server/holdings/connectors/connect.ts';
import { walkPlaces } from '../../src/server/holdings/connectors/walk.ts';
import { fetchWhole } from '../../src/server/holdings/items/fetched-item.ts';
import { readSettings } from '../../src/server/settings.ts';
import { objectStore } from '../../standins/object-store.ts';
import { startDovecot } from '../servers/dovecot.ts';
import type { ServerProcess } from '../servers/server-process.ts';

/** A source of each kind with so many items of 4 January 2021 or before. */
export interface Estate {
  readonly kind: string;
  readonly content: Partial<SourceContent>;
  readonly secret: string;
  fill(root: string, items: number): Promise<SourceAddress>;
}

const OLD = new Date('2021-01-04T10:00:00Z');
const SECRET = 'kept-from-sight';
const letter = (i: number) =>
  `From: kim${i}@ferry.example\nSubject: Letter ${i}\nDate: Mon, 04 Jan 2021 10:00:00 +0000\n\nText ${i}\n`;

/** Servers that the estates lie in, apart from those of the desk. */
export class Estates {
  readonly home = mkdtempSync(join(tmpdir(), 'yare-estates-'));
  #ports: readonly number[] = [];
  #imap: ServerProcess | undefined;
  #database: OwnDatabase | undefined;
  #store: Server | undefined;

  /** What the desk has to be allowed to speak to. */
  async allowed(): Promise<string> {
    this.#ports = await freePorts(3);
    return this.#ports.map((p) => `127.0.0.1:${p}`).join(',');
  }

  readonly all: readonly Estate[] = [
    {
      ...{ kind: 'folder', content: {}, secret: '' },
      fill: async (root, items) => {
        await mkdir(root, { recursive: true });
        for (let i = 0; i < items; i++)
          await this.#write(join(root, `${i}.txt`), `File ${i}: kim${i}@ferry.example`);
        return { kind: 'folder', root };
      },
    },
    {
      ...{ kind: 'mail folder', content: {}, secret: '' },
      fill: async (root, items) => {
        for (const sub of ['cur', 'new', 'tmp']) await mkdir(join(root, 'box', sub), { recursive: true });
        for (let i = 0; i < items; i++)
          await this.#write(join(root, 'box', 'cur', `${1_600_000_000 + i}.M${i}.host:2,S`), letter(i));
        return { kind: 'mail folder', root };
      },
    },
    {
      ...{ kind: 'mbox', content: {}, secret: '' },
      fill: async (root, items) => {
        await mkdir(root, { recursive: true });
        const from = 'From kim@ferry.example Mon Jan  4 10:00:00 2021\n';
        const all = Array.from({ length: items }, (_, i) => `${from}${letter(i)}\n`).join('');
        await this.#write(join(root, 'box.mbox'), all);
        return { kind: 'mail folder', root };
      },
    },
    {
      ...{ kind: 'imap', content: {}, secret: SECRET },
      fill: async (_root, items) => {
        const [port = 0] = this.#ports;
        const folder = join(this.home, 'imap');
        mkdirSync(folder);
        for (const f of [this.home, folder]) chmodSync(f, 0o777);
        const started = startDovecot(folder, port, 'desk', SECRET);
        chmodSync(join(folder, 'mail'), 0o777);
        this.#imap = await started;
        const address = { kind: 'imap', host: '127.0.0.1', port, secure: false, user: 'desk' } as const;
        const writer = new ImapFlow({ ...address, auth: { user: 'desk', pass: SECRET }, logger: false });
        await writer.connect();
        for (let i = 0; i < items; i++)
          await writer.append('INBOX', letter(i).replaceAll('\n', '\r\n'), [], OLD);
        await writer.logout();
        return address;
      },
    },
    {
      ...{
        kind: 'mariadb',
        content: { rowTemplates: [{ table: 'crossing', day: 'sailed', by: 'day', blank: [] }] },
        secret: '',
      },
      fill: async (_root, items) => {
        const [, port = 0] = this.#ports;
        const database = await startMariadb(join(this.home, 'database'), port);
        this.#database = database;
        const at = new URL(database.url);
        const connection = await mysql.createConnection(database.url);
        await connection.query(
          'CREATE TABLE crossing (id INT PRIMARY KEY, guest VARCHAR(80), sailed DATE, KEY (sailed))',
        );
        await connection.query(
          `INSERT INTO crossing SELECT seq, CONCAT('kim', seq, '@ferry.example'), DATE_SUB('2021-01-04', INTERVAL seq DAY) FROM seq_1_to_${items}`,
        );
        await connection.end();
        this.#password = decodeURIComponent(at.password);
        return { kind: 'mariadb', host: '127.0.0.1', port, user: at.username, database: 'yare' };
      },
    },
    {
      ...{ kind: 'object store', content: {}, secret: SECRET },
      fill: async (_root, items) => {
        const [, , port = 0] = this.#ports;
        const folder = join(this.home, 'buckets');
        await mkdir(join(folder, 'archive'), { recursive: true });
        for (let i = 0; i < items; i++)
          await this.#write(join(folder, 'archive', `${i}.txt`), `Object ${i}: kim${i}@ferry.example`);
        const answer = objectStore({ folder, user: 'reader', secret: SECRET, page: 500 });
        const store = createServer((q, r) => void answer(q, r, new URL(q.url ?? '/', 'http://x')));
        this.#store = store;
        await new Promise<void>((ready) => store.listen(port, '127.0.0.1', ready));
        return {
          ...{ kind: 'object store', endpoint: `http://127.0.0.1:${port}`, region: 'eu' },
          ...{ bucket: 'archive', prefix: '', user: 'reader' },
        };
      },
    },
  ];
  #password = '';

  secretOf(estate: Estate): string {
    return estate.kind === 'mariadb' ? this.#password : estate.secret;
  }

  /** SHA-256 of every item that is there now, by place and name. */
  async hashes(estate: Estate, address: SourceAddress, root: string): Promise<ReadonlyMap<string, string>> {
    const settings = readSettings({
      SECRET_KEY: 'ab'.repeat(32),
      SOURCE_ROOTS: join(root, '..'),
      ALLOWED_PRIVATE: this.#ports.map((p) => `127.0.0.1:${p}`).join(','),
    });
    const connector = await connect(settings, address, this.secretOf(estate), {
      ...USUAL_SOURCE,
      ...estate.content,
    });
    const found = new Map<string, string>();
    try {
      const walk = walkPlaces(connector, { excluded: () => false, signal: new AbortController().signal });
      for await (const { path, names } of walk)
        for (const name of names)
          found.set(`${path}/${name}`, (await fetchWhole(connector, { path, name })).hash.toString('hex'));
    } finally {
      await connector.close();
    }
    return found;
  }

  async stop(): Promise<void> {
    this.#store?.closeAllConnections();
    this.#store?.close();
    await this.#imap?.stop();
    await this.#database?.stop();
    rmSync(this.home, { recursive: true, force: true });
  }

  async #write(path: string, text: string): Promise<void> {
    await writeFile(path, text);
    await utimes(path, OLD, OLD);
  }
}
