import type { IncomingMessage, ServerResponse } from 'node:http';
import { createTransport } from 'nodemailer';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import { readBody, send } from '../answer.ts';
import { escape } from '../page.ts';
import { CLERKS } from './clerks.ts';
import { Documents } from './documents.ts';
import { LevelRefused, type LevelClient, type Offered } from './level-client.ts';
import { readWordPage } from './word-page.ts';

export const OFFICE_HOST = 'office.localhost';
const MOST_FORM = 100_000;

export interface OfficeOptions {
  readonly dataDir: string;
  readonly levels: LevelClient;
  /** Where mail goes out. */
  readonly mailPort: number;
}

/** A small editor and a mail composer, as clerks of the ferry line would have them; levels come from the desk. */
export function office({ dataDir, levels, mailPort }: OfficeOptions) {
  const documents = new Documents(dataDir);
  const out = createTransport({ host: '127.0.0.1', port: mailPort, secure: false, ignoreTLS: true });

  return async (request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> => {
    const form = request.method === 'POST' ? await readForm(request) : undefined;
    const clerk = clerkOf(form?.get('as') ?? url.searchParams.get('as'));
    const html = (title: string, body: string, status = 200) =>
      send(response, 'text/html; charset=utf-8', page(title, clerk.address, url, body), status);
    try {
      const offered = await levels.offered(clerk.address);
      switch (url.pathname) {
        case '/':
          return html('Documents', await listPage());
        case '/document': {
          const name = form?.get('name') ?? url.searchParams.get('name') ?? '';
          const bytes = await documents.read(name);
          if (!bytes) return html('No such document', '<p>There is no such document.</p>', 404);
          if (!form) return html(name, await documentPage(name, bytes, offered));
          return await chosen(name, bytes, offered, form, html);
        }
        case '/asked':
          return await answered(form, html);
        case '/mail':
          return form
            ? await sent(offered, form, html)
            : html('New message', mailPage(offered, await documents.list()));
        default:
          return html('Nothing here', '<p>There is nothing here.</p>', 404);
      }
    } catch (error) {
      if (!(error instanceof LevelRefused)) throw error;
      return html('Levels', refusal(error), 502);
    }

    async function answered(
      form: URLSearchParams | undefined,
      html: (title: string, body: string, status?: number) => void,
    ): Promise<void> {
      const field = (name: string) => form?.get(name) ?? '';
      if (form)
        await levels.say({
          person: clerk.address,
          item: field('item'),
          rule: field('rule'),
          agree: field('agree'),
          reason: field('reason'),
        });
      const { proposals, total } = await levels.asked(clerk.address);
      const rows = proposals.map(
        (p) =>
          `<li><form method="post" action="/asked"><input type="hidden" name="as" value="${escape(clerk.address)}"><input type="hidden" name="item" value="${p.item}"><input type="hidden" name="rule" value="${escape(p.rule)}"><b>${escape(p.name)}</b> Is it ${escape(p.levelName)}? Because ${escape(p.because)}. <button name="agree" value="yes">Yes</button> <button name="agree" value="no">No</button></form></li>`,
      );
      return html(
        'Asked of you',
        total === 0 ? '<p>Nothing is asked of you.</p>' : `<p>${total} in all.</p><ul>${rows.join('')}</ul>`,
      );
    }

    async function listPage(): Promise<string> {
      const rows = await Promise.all(
        (await documents.list()).map(async (name) => {
          const level = await levels.read((await documents.read(name)) ?? new Uint8Array());
          return `<li><a href="/document?${query({ as: clerk.address, name })}">${escape(name)}</a> <small>${escape(level?.name ?? 'no level yet')}</small></li>`;
        }),
      );
      return `<ul>${rows.join('')}</ul><p><a href="/mail?${query({ as: clerk.address })}">Write a message</a> · <a href="/asked?${query({ as: clerk.address })}">What is asked of you</a></p>`;
    }

    async function documentPage(
      name: string,
      bytes: Uint8Array,
      offered: Offered,
      wish?: Wish,
    ): Promise<string> {
      const [seen, level] = [readWordPage(bytes), await levels.read(bytes)];
      const lines = (all: readonly string[], kind: string) =>
        all.map((l) => `<p class="${kind}">${escape(l)}</p>`).join('');
      return `<div class="two"><form method="post" action="/document"><input type="hidden" name="as" value="${escape(clerk.address)}"><input type="hidden" name="name" value="${escape(name)}">
<p>${level ? `It is <b>${escape(level.name)}</b>.` : 'It has no level yet.'}</p>
${choices(offered, wish?.level ?? level?.id ?? offered.start, 'files')}
${wish ? refusal(wish.refused) : ''}
<label>Reason, where it is lowered <input name="reason" maxlength="400" value="${escape(wish?.reason ?? '')}"></label>
<button>Set the level</button></form>
<article aria-label="The document">${lines(seen.header, 'edge')}${seen.across.map((t) => `<div class="across" role="img" aria-label="Across the page: ${escape(t)}" data-text="${escape(t)}"></div>`).join('')}${lines(seen.paragraphs, 'text')}${lines(seen.footer, 'edge')}</article></div>`;
    }

    async function chosen(
      name: string,
      bytes: Uint8Array,
      offered: Offered,
      form: URLSearchParams,
      html: (title: string, body: string, status?: number) => void,
    ): Promise<void> {
      const [level, reason] = [form.get('level') ?? '', form.get('reason') ?? ''];
      try {
        await documents.write(name, await levels.set({ person: clerk.address, level, reason, name }, bytes));
      } catch (error) {
        if (!(error instanceof LevelRefused)) throw error;
        return html(name, await documentPage(name, bytes, offered, { level, reason, refused: error }), 400);
      }
      const at = new URLSearchParams({ as: clerk.address, name });
      response.writeHead(303, { location: `/document?${at.toString()}` });
      response.end();
    }

    async function sent(
      offered: Offered,
      form: URLSearchParams,
      html: (title: string, body: string, status?: number) => void,
    ): Promise<void> {
      const field = (name: string) => form.get(name) ?? '';
      const attached = field('attached');
      const bytes = attached ? await documents.read(attached) : undefined;
      try {
        const level = offered.levels.find((l) => l.id === field('level'));
        if (!level) throw new LevelRefused('Choose a level first.', []);
        const carried = bytes && (await levels.read(bytes));
        const stronger = offered.levels.find((l) => l.id === carried?.id);
        if (carried && (stronger?.strength ?? Infinity) > level.strength)
          throw new LevelRefused(`${attached} is ${carried.name}: the message cannot be less.`, []);
        const message = await composed(field, attached, bytes);
        const stamped = await levels.set(
          { person: clerk.address, level: level.id, reason: '', name: field('subject') },
          message,
        );
        await out.sendMail({
          envelope: { from: clerk.address, to: field('to') },
          raw: Buffer.from(stamped),
        });
      } catch (error) {
        if (!(error instanceof LevelRefused)) throw error;
        return html('New message', mailPage(offered, await documents.list(), form, error), 400);
      }
      return html(
        'Sent',
        `<p role="status">It went to ${escape(field('to'))}, stamped. <a href="http://mailbox.localhost:${escape(url.port)}/">See it as it came there</a></p>`,
      );
    }

    function composed(
      field: (name: string) => string,
      attached: string,
      bytes: Uint8Array | undefined,
    ): Promise<Uint8Array> {
      const at = field('at');
      const mail = new MailComposer({
        from: { name: clerk.name, address: clerk.address },
        to: field('to'),
        subject: field('subject'),
        text: field('text'),
        html: `<html><body>${field('text')
          .split('\n')
          .map((l) => `<p>${escape(l)}</p>`)
          .join('')}</body></html>`,
        ...(bytes ? { attachments: [{ filename: attached, content: Buffer.from(bytes) }] } : {}),
        ...(at ? { icalEvent: { method: 'REQUEST', content: invitation(field, at) } } : {}),
      });
      return mail
        .compile()
        .build()
        .then((b) => new Uint8Array(b));
    }

    function invitation(field: (name: string) => string, at: string): string {
      const plain = (text: string) => text.replace(/[\\;,]/g, '\\$&').replace(/\r?\n/g, '\\n');
      const instant = (ms: number) => `${new Date(ms).toISOString().replace(/[-:]|\.\d+/g, '')}`;
      const begins = Date.parse(`${at}Z`) || Date.now();
      return [
        'BEGIN:VCALENDAR',
        'VERSION:2.0',
        'PRODID:-//Brindle Strait Ferries//Office//EN',
        'METHOD:REQUEST',
        'BEGIN:VEVENT',
        `UID:${crypto.randomUUID()}@brindlestrait.example`,
        `DTSTAMP:${instant(Date.now())}`,
        `DTSTART:${instant(begins)}`,
        `DTEND:${instant(begins + 3_600_000)}`,
        `ORGANIZER:mailto:${clerk.address}`,
        `ATTENDEE:mailto:${plain(field('to'))}`,
        `SUMMARY:${plain(field('subject'))}`,
        `DESCRIPTION:${plain(field('text'))}`,
        'END:VEVENT',
        'END:VCALENDAR',
        '',
      ].join('\r\n');
    }

    function mailPage(
      offered: Offered,
      names: readonly string[],
      form?: URLSearchParams,
      refused?: LevelRefused,
    ): string {
      const kept = (name: string, usual = '') => escape(form?.get(name) ?? usual);
      return `<form method="post" action="/mail"><input type="hidden" name="as" value="${escape(clerk.address)}">
<label>To <input name="to" type="email" required value="${kept('to')}"></label>
<label>Subject <input name="subject" required value="${kept('subject')}"></label>
<label>Message <textarea name="text" rows="6">${kept('text')}</textarea></label>
<label>Attached <select name="attached"><option value="">nothing</option>${names.map((n) => `<option${form?.get('attached') === n ? ' selected' : ''}>${escape(n)}</option>`).join('')}</select></label>
<label>Invites to a meeting at <input name="at" type="datetime-local" value="${kept('at')}"></label>
${choices(offered, form?.get('level') ?? offered.start, 'mail')}
${refused ? refusal(refused) : ''}
<button>Send</button></form>`;
    }
  };
}

interface Wish {
  readonly level: string;
  readonly reason: string;
  readonly refused: LevelRefused;
}

function choices({ levels, person }: Offered, chosen: string | null, goesOn: string): string {
  if (levels.length === 0) return `<p>${escape(person.name)} is offered no level.</p>`;
  return `<fieldset><legend>Level</legend>${levels
    .filter((l) => l.goesOn.includes(goesOn))
    .map(
      (l) =>
        `<label class="level"><input type="radio" name="level" value="${escape(l.id)}"${l.id === chosen ? ' checked' : ''}> <span class="dot" style="background:${escape(l.colour)}"></span> <b>${escape(l.name)}</b> <small>${escape(l.means)}</small></label>`,
    )
    .join('')}</fieldset>`;
}

function refusal({ message, fields }: LevelRefused): string {
  return `<p role="alert" class="wrong">${escape([message, ...fields.map((f) => f.message)].join(' '))}</p>`;
}

function clerkOf(address: string | null): (typeof CLERKS)[number] {
  return CLERKS.find((c) => c.address === address) ?? CLERKS[0];
}

function query(of: Readonly<Record<string, string>>): string {
  return escape(new URLSearchParams(of).toString());
}

async function readForm(request: IncomingMessage): Promise<URLSearchParams> {
  return new URLSearchParams((await readBody(request, MOST_FORM)).toString());
}

function page(title: string, as: string, url: URL, body: string): string {
  const name = url.searchParams.get('name');
  const people = CLERKS.map(
    (c) =>
      `<a href="${url.pathname}?${query({ as: c.address, ...(name ? { name } : {}) })}"${c.address === as ? ' aria-current="true"' : ''}>${escape(c.name)}, ${escape(c.group)}</a>`,
  ).join('');
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${escape(title)}</title><link rel="icon" href="data:,"><style>${STYLE}</style>
<nav><a href="/?${query({ as })}"><b>Office</b></a><span>used by</span>${people}</nav><main><h1>${escape(title)}</h1>${body}</main></html>`;
}

const STYLE = `body{font:16px/1.5 sans-serif;margin:0;color:#1b2a33;background:#eef2f4}nav{display:flex;gap:1rem;align-items:center;flex-wrap:wrap;padding:.7rem 1.5rem;background:#2b4a3f;color:#d7e4de}nav a{color:#fff}nav a[aria-current]{font-weight:700;text-decoration:none}main{max-width:62rem;margin:1.5rem auto;padding:0 1rem}h1{font-size:1.4rem}form{display:grid;gap:.7rem;max-width:26rem;align-content:start}label{display:grid;gap:.2rem}label.level{display:block;margin:.3rem 0}label.level small{display:block;margin-left:1.9rem;color:#51646b}input,textarea,select,button{font:inherit;padding:.3rem .5rem}input[type=radio]{padding:0}fieldset{border:1px solid #a9b6b6;background:#fff}.dot{display:inline-block;width:.8rem;height:.8rem;border:1px solid #a9b6b6}.two{display:grid;grid-template-columns:minmax(0,26rem) minmax(0,1fr);gap:2rem}article{position:relative;overflow:hidden;min-height:30rem;padding:1rem 3rem 3rem;background:#fff;border:1px solid #a9b6b6}.edge{margin:0 0 1rem;font-weight:600;text-align:center;color:#7a1431}.across::before{content:attr(data-text)}.across{position:absolute;inset:40% 0 auto;text-align:center;font-size:3rem;color:#e2d3da;transform:rotate(-35deg);pointer-events:none}.wrong{margin:0;color:#a3175c}small{color:#51646b}`;
