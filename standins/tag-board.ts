import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { escape } from './page.ts';
import { send } from './answer.ts';
import type { StandinSite } from './site.ts';

const PURPOSES = ['preferences', 'measurement', 'advertising'];

/** Stands in for the web team's editor: which tag of a site waits for which purpose. At `/-/tags` of each site. */
export class TagBoard {
  readonly #file: string;
  #set: Record<string, string | null>;

  constructor(dataDir: string) {
    mkdirSync(dataDir, { recursive: true });
    this.#file = join(dataDir, 'standin-tags.json');
    this.#set = existsSync(this.#file)
      ? (JSON.parse(readFileSync(this.#file, 'utf8')) as Record<string, string | null>)
      : {};
  }

  heldOf(site: StandinSite): ReadonlyMap<string, string | null> {
    return new Map(
      site.tags.map((t) => [
        t.id,
        this.#set[`${site.host}/${t.id}`] ?? (`${site.host}/${t.id}` in this.#set ? null : t.held),
      ]),
    );
  }

  /** Whether the notice’s line is in the pages’ head. */
  isInstalled(site: StandinSite): boolean {
    return this.#set[`${site.host}/-script`] === undefined
      ? site.installed
      : this.#set[`${site.host}/-script`] === 'yes';
  }

  async answer(request: IncomingMessage, response: ServerResponse, site: StandinSite): Promise<void> {
    if (request.method === 'POST') {
      let body = '';
      for await (const chunk of request) body += String(chunk).slice(0, 1000);
      const form = new URLSearchParams(body.slice(0, 2000));
      const tag = site.tags.find((t) => t.id === form.get('tag'));
      const purpose = form.get('purpose') ?? '';
      if (tag) this.#save(`${site.host}/${tag.id}`, PURPOSES.includes(purpose) ? purpose : null);
      if (form.get('tag') === '-script') this.#save(`${site.host}/-script`, purpose === 'yes' ? 'yes' : 'no');
      response.writeHead(303, { location: '/-/tags' });
      response.end();
      return;
    }
    const held = this.heldOf(site);
    const rows = site.tags.map((t) => {
      const options = ['', ...PURPOSES].map(
        (p) =>
          `<option value="${p}"${(held.get(t.id) ?? '') === p ? ' selected' : ''}>${p || 'runs at once'}</option>`,
      );
      return `<form method="post"><label>${escape(t.words)} <input type="hidden" name="tag" value="${t.id}"><select name="purpose">${options.join('')}</select></label> <button>Save</button></form>`;
    });
    const script = ['no', 'yes'].map(
      (v) =>
        `<option value="${v}"${(v === 'yes') === this.isInstalled(site) ? ' selected' : ''}>${v === 'yes' ? 'first in the head' : 'not on the pages'}</option>`,
    );
    rows.unshift(
      `<form method="post"><label>The line of the consent notice <input type="hidden" name="tag" value="-script"><select name="purpose">${script.join('')}</select></label> <button>Save</button></form>`,
    );
    send(
      response,
      'text/html; charset=utf-8',
      `<!doctype html><html lang="en"><title>Tags of ${site.host}</title><link rel="stylesheet" href="/site.css"><main><h1>Tags of ${site.host}</h1><p>What the web team would edit in the site itself: which tag waits for which purpose.</p>${rows.join('')}</main></html>`,
    );
  }

  #save(key: string, held: string | null): void {
    this.#set = { ...this.#set, [key]: held };
    writeFileSync(`${this.#file}.new`, JSON.stringify(this.#set));
    renameSync(`${this.#file}.new`, this.#file);
  }
}
