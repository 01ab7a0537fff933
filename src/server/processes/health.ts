import type { ServerResponse } from 'node:http';
import { z } from 'zod';
import type { Queries } from '../store/pool.ts';
import { within } from './within.ts';

const ANSWER_MS = 2000;
const GOOD_FOR_MS = 500;

/** Whether the database answers; asked at most twice a second, however often it is wanted. */
export class Health {
  #asked: { readonly at: number; readonly well: Promise<boolean> } | undefined;

  constructor(readonly store: Queries) {}

  well(): Promise<boolean> {
    const now = Date.now();
    if (this.#asked && now - this.#asked.at < GOOD_FOR_MS) return this.#asked.well;
    const well = this.#ask();
    this.#asked = { at: now, well };
    return well;
  }

  /** Answers `/healthz`: 200 when the process can do its work, 503 without a database. */
  async answer(response: ServerResponse): Promise<void> {
    const well = await this.well();
    response.writeHead(well ? 200 : 503, { 'content-type': 'text/plain; charset=utf-8' });
    response.end(well ? 'ok' : 'The database does not answer.');
  }

  #ask(): Promise<boolean> {
    const answers = this.store.one(z.object({ ok: z.number() }), 'SELECT 1 AS ok');
    return within(
      ANSWER_MS,
      answers.then((row) => row?.ok === 1),
      false,
    );
  }
}
