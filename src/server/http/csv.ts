import { stringify } from 'csv-stringify/sync';
import { logFailure } from '../processes/failure-log.ts';
import { safeName } from './attachment.ts';
import type { Outgoing } from './outgoing.ts';

export type Cell = string | number | null;

/**
 * One line of CSV (RFC 4180). Text that a spreadsheet would take for a formula gets an apostrophe before it, as OWASP
 * advises; numbers stay numbers.
 */
export function csvLine(cells: readonly Cell[]): string {
  return stringify([cells.map(safeCell)], { record_delimiter: '\r\n' });
}

export function safeCell(cell: Cell): string {
  if (typeof cell === 'number') return String(cell);
  const text = cell ?? '';
  return /^[\s]*[=+\-@\t\r\n|%]/.test(text) ? `'${text}` : text;
}

/** What `safeCell` was given, of what a person sends back. */
export function plainCell(text: string): string {
  return /^'[\s]*[=+\-@\t\r\n|%]/.test(text) ? text.slice(1) : text;
}

/**
 * A download that is written as rows arrive and as fast as it is read, so that its size does not matter. Where the rows
 * break off, so does the connection: what has arrived is never taken for the whole.
 */
export function streamed(
  name: string,
  type: string,
  outgoing: Outgoing,
  lines: AsyncIterable<string | Uint8Array>,
): Response {
  const iterator = lines[Symbol.asyncIterator]();
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        try {
          await outgoing.room();
          const { value, done } = await iterator.next();
          if (done) controller.close();
          else controller.enqueue(typeof value === 'string' ? encoder.encode(value) : new Uint8Array(value));
        } catch (error) {
          await iterator.return?.().catch(() => {});
          logFailure('a download broke off', error);
          outgoing.breakOff();
          controller.error(error);
        }
      },
      async cancel() {
        await iterator.return?.();
      },
    },
    { highWaterMark: 0 },
  );
  return new Response(body, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${safeName(name)}"`,
      'cache-control': 'no-store',
    },
  });
}
