import { mkdir, readdir, readFile, unlink, writeFile } from 'node:fs/promises';
import type { ServerResponse } from 'node:http';
import { join } from 'node:path';
import PostalMime, { type Email } from 'postal-mime';
import { SMTPServer } from 'smtp-server';
import { send } from './answer.ts';
import { escape } from './page.ts';

/** Where it is looked into. */
export const MAILBOX_HOST = 'mailbox.localhost';
const KEPT = 200;
const MOST_BYTES = 5_000_000;

/** Takes all mail that is sent to it, delivers none of it, and shows it. */
export class Mailbox {
  readonly #folder: string;
  readonly #server: SMTPServer;
  #turn: Promise<unknown> = Promise.resolve();

  constructor(dataDir: string) {
    this.#folder = join(dataDir, 'mailbox');
    this.#server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS', 'AUTH'],
      size: MOST_BYTES,
      logger: false,
      onData: (stream, _session, done) => {
        const parts: Buffer[] = [];
        stream.on('data', (part: Buffer) => parts.push(part));
        stream.on('end', () => {
          if (stream.sizeExceeded) return done(Object.assign(new Error('Too large'), { responseCode: 552 }));
          this.#turn = this.#turn.then(() => this.#keep(Buffer.concat(parts))).then(() => done(), done);
        });
      },
    });
    // A sender that breaks off is of no interest.
    this.#server.on('error', () => {});
  }

  async start(port: number): Promise<void> {
    await mkdir(this.#folder, { recursive: true });
    await new Promise<void>((ready, failed) => {
      this.#server.on('error', failed);
      this.#server.listen(port, '127.0.0.1', () => ready());
    });
  }

  close(): void {
    this.#server.close();
  }

  /** One message a file, in the order they came. */
  async #keep(message: Buffer): Promise<void> {
    const names = await this.#names();
    const next = Number(names.at(-1)?.replace('.eml', '') ?? 0) + 1;
    await writeFile(join(this.#folder, `${String(next).padStart(8, '0')}.eml`), message);
    for (const old of names.slice(0, Math.max(0, names.length + 1 - KEPT)))
      await unlink(join(this.#folder, old));
  }

  async #names(): Promise<readonly string[]> {
    return (await readdir(this.#folder)).filter((n) => /^\d{8}\.eml$/.test(n)).toSorted();
  }

  async #read(name: string): Promise<Email> {
    return PostalMime.parse(await readFile(join(this.#folder, name)));
  }

  /** Its page: all mail, or one. */
  async answer(response: ServerResponse, path: string): Promise<void> {
    const names = (await this.#names()).toReversed();
    const one = names.find((n) => path === `/${Number(n.replace('.eml', ''))}`);
    if (one) {
      const mail = await this.#read(one);
      return send(response, 'text/html; charset=utf-8', page(subjectOf(mail), letter(mail)));
    }
    if (path !== '/') return send(response, 'text/plain', 'There is no such mail.', 404);
    const rows = await Promise.all(
      names.map(async (n) => {
        const mail = await this.#read(n);
        return `<li><a href="/${Number(n.replace('.eml', ''))}">${escape(subjectOf(mail))}</a> to ${escape(toOf(mail))}, ${escape(mail.date ?? '')}</li>`;
      }),
    );
    const list = rows.length ? `<ul>${rows.join('')}</ul>` : '<p>No mail has come yet.</p>';
    return send(response, 'text/html; charset=utf-8', page('Mailbox', list));
  }
}

const subjectOf = (mail: Email) => mail.subject ?? '(no subject)';
const toOf = (mail: Email) => (mail.to ?? []).map((t) => t.address ?? '').join(', ');

/** What the message says of how it may be treated, where it says so. */
function levelOf(mail: Email): string {
  const field = mail.headers.find((h) => h.key === 'yare-level')?.value;
  return field ? `<br>Yare-Level: ${escape(field)}` : '';
}

function letter(mail: Email): string {
  return `<p>From ${escape(mail.from?.address ?? '')} to ${escape(toOf(mail))}${levelOf(mail)}</p><pre>${escape(mail.text ?? '')}</pre><p><a href="/">All mail</a></p>`;
}

function page(title: string, body: string): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escape(title)}</title><style>body{font:16px/1.5 sans-serif;max-width:46rem;margin:2rem auto;padding:0 1rem}pre{white-space:pre-wrap}</style><h1>${escape(title)}</h1>${body}`;
}
