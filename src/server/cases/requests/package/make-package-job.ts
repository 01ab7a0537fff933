import type { JobKind } from '../../../jobs/runner.ts';
import { openRequestOf } from '../open-request.ts';
import { createHash, randomInt } from 'node:crypto';
import { configure, TextReader, Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js';
import type { Content } from 'pdfmake/interfaces.js';
import { z } from 'zod';
import { coveredValues } from '../../../../core/cases/requests/covers/covered-text.ts';
import { standing, type PackedText } from '../../../../core/cases/requests/covers/leftovers.ts';
import { proposeCovers } from '../../../../core/cases/requests/covers/propose-covers.ts';
import type { Reading } from '../../../../core/cases/requests/covers/reading.ts';
import { shownTable, shownText } from '../../../../core/cases/requests/covers/shown.ts';
import { recognise } from '../../../../core/cases/requests/person/recognise.ts';
import type { Subject } from '../../../../core/cases/requests/person/subject.ts';
import { needsGathering, requestNumber } from '../../../../core/cases/requests/request.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Json } from '../../../../core/rules/change.ts';
import { dayText } from '../../../../core/text/day.ts';
import { mask } from '../../../../core/text/mask.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { DIM, heading, makeDocument, paragraph, title } from '../../../files/document.ts';
import { keepCopy, readWhole, removeCopy } from '../../../holdings/offers.ts';
import { csvLine } from '../../../http/csv.ts';
import { addJob } from '../../../jobs/job.ts';

import { sealText } from '../../../secret.ts';
import { toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { listItems, type RequestItem } from '../items/list-items.ts';
import { readingOf } from '../items/request-items.ts';
import { knowRequest, showRequest } from '../request-facts.ts';
import { readRequestPolicy } from '../request-policy.ts';
import { addStep, findRequest, knownSubject } from '../request-row.ts';
import { readDocument } from '../search/look-through.ts';
import { madeFrom } from './made-from.ts';
import { latestPackage, type Leftover } from './packages.ts';

configure({ useWebWorkers: false });

const Payload = z.object({ request: z.number(), account: z.number() });

/** Queues the making of the package. Throws a RefusedError (409) while something of it is not decided. */
export async function queuePackage(tx: Queries, ctx: Context, id: number, account: number): Promise<void> {
  const { row, facts, needs } = await knowRequest(tx, ctx, id);
  if (!needsGathering(row.kind)) throw new RefusedError('Nothing is handed over for it.', [], 409);
  if (facts.search !== 'done') throw new RefusedError('Look for what is held first.', [], 409);
  const open = needs.find(
    (n) => n.step === 'told apart' || n.step === 'looked over' || (n.step === 'found' && n.wrong),
  );
  if (open) throw new RefusedError(`Not yet: ${open.words}.`, [], 409);
  await addJob(tx, ctx.now(), {
    ...{ kind: 'make-package', title: `Making the package of ${requestNumber(id)}` },
    about: { object: 'request', id },
    payload: { request: id, account },
    ...{ createdBy: account, link: `/cases/requests/${id}?tab=package` },
  });
}

interface Packed {
  readonly item: RequestItem;
  readonly reading: Reading;
  readonly label: string;
  readonly number: string;
}

/**
 * Makes what a person is handed over: a page and a document to read, tables and JSON for machines, in a ZIP that opens with a
 * passphrase. Every file is made anew from the text that was read, without what is covered: nothing that nobody saw can be in
 * it. Then all of it is read again, and searched for what was covered and for people nobody decided about.
 */
export const makePackageJob: JobKind = {
  kind: 'make-package',
  lane: 'long',
  see: 'cases.read',
  start: 'cases.handle',
  work: async (ctx, run): Promise<Json> => {
    const { request: id, account } = Payload.parse(run.job.payload);
    const { row, request } = await openRequestOf(ctx, id);
    const from = await madeFrom(ctx.store, id);
    const items = (await listItems(ctx.store, id)).filter((i) => i.theirs === 'yes' && i.state === 'right');
    const packed: Packed[] = [];
    for (const [i, item] of items.entries()) {
      const reading = await readingOf(ctx.store, ctx, item.id);
      if (reading)
        packed.push({ item, reading, number: String(i + 1).padStart(3, '0'), label: labelOf(item) });
    }
    run.progress({ words: 'Writing', share: 0.2, secondsLeft: null });
    const policy = await readRequestPolicy(ctx.store);
    const files = await filesOf(packed, requestNumber(id), policy.organisation, request.language);
    run.progress({ words: 'Searching it for what was covered', share: 0.5, secondsLeft: null });
    const leftovers = await leftoversOf(ctx, knownSubject(ctx, row, request), packed, files);
    if (run.signal.aborted) return { cancelled: true };
    const phrase = newPhrase();
    const bytes = await zipped(files, phrase);
    const digest = createHash('sha256').update(bytes).digest();
    const keepUntil = new Date(ctx.now().getTime() + (policy.fetchDays + policy.keepDays) * 86_400_000);
    await ctx.store.transaction(async (tx) => {
      await findRequest(tx, id, true);
      const before = await latestPackage(tx, id);
      if (before?.copyId) {
        await removeCopy(tx, before.copyId);
        await tx.run('UPDATE request_package SET copy_id = NULL, phrase = NULL WHERE request_id = ?', [id]);
      }
      const copy = await keepCopy(tx, ctx, bytes, keepUntil);
      await tx.run(
        'INSERT INTO request_package (request_id, made_at, made_by, digest, size, files, items, leftovers, made_from, copy_id, phrase) VALUES (?)',
        [
          [
            ...[id, toDatetime(ctx.now()), account, digest, bytes.length, files.length, packed.length],
            ...[JSON.stringify(leftovers), from, copy, sealText(ctx.settings.SECRET_KEY, phrase)],
          ],
        ],
      );
      await addStep(
        tx,
        ctx.now(),
        id,
        'package',
        account,
        `${packed.length} items, ${leftovers.length} left to cover`,
      );
      await record(tx, ctx.now(), {
        ...{ actor: account, action: 'request.package', object: 'request', objectId: id },
        detail: { items: packed.length, digest: digest.toString('hex'), leftovers: leftovers.length },
      });
      await showRequest(tx, ctx, id);
    });
    return { items: packed.length, leftovers: leftovers.length };
  },
};

/** Names of files may tell of others; what an item is and where it was does not. */
function labelOf({ source, origin, format, changedAt, title }: RequestItem): string {
  const what =
    origin === 'item' ? (format === 'CSV' ? 'table' : format) : origin === 'linked rows' ? title : origin;
  return [source ?? 'Websites', what, changedAt ? dayText(changedAt.slice(0, 10)) : '']
    .filter((p) => p !== '')
    .join(', ');
}

interface PackedFile {
  readonly name: string;
  readonly body: string | Uint8Array;
}

async function filesOf(
  packed: readonly Packed[],
  number: string,
  organisation: string,
  language: string,
): Promise<readonly PackedFile[]> {
  const tables = packed.flatMap((p) => {
    const table = shownTable(p.reading);
    return table.columns.length > 0 ? [{ ...p, table }] : [];
  });
  const tableOf = new Map(tables.map((t) => [t.number, t.table]));
  return [
    { name: 'index.html', body: indexPage(packed, number, organisation, language) },
    { name: `${number}.pdf`, body: await readable(packed, number, organisation) },
    {
      name: 'data.json',
      body: JSON.stringify(
        {
          request: number,
          from: organisation,
          items: packed.map((p) => ({
            ...{ number: p.number, what: p.label, system: p.item.system, changed: p.item.changedAt },
            ...(tableOf.has(p.number)
              ? { rows: asObjects(tableOf.get(p.number)) }
              : { text: shownText(p.reading) }),
          })),
        },
        null,
        2,
      ),
    },
    ...tables.map((t) => ({
      name: `tables/${t.number}.csv`,
      body: [t.table.columns, ...t.table.rows].map((r) => csvLine(r)).join(''),
    })),
    ...packed
      .filter((p) => !tableOf.has(p.number))
      .map((p) => ({ name: `texts/${p.number}.txt`, body: `${shownText(p.reading)}\n` })),
  ];
}

const asObjects = (t: ReturnType<typeof shownTable> | undefined) =>
  (t?.rows ?? []).map((r) => Object.fromEntries(r.map((cell, i) => [t?.columns[i] ?? '', cell])));

const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

function indexPage(
  packed: readonly Packed[],
  number: string,
  organisation: string,
  language: string,
): string {
  const body = packed.map((p) => {
    const table = shownTable(p.reading);
    const content =
      table.columns.length > 0
        ? `<table><thead><tr>${table.columns.map((c) => `<th scope="col">${escaped(c)}</th>`).join('')}</tr></thead><tbody>${table.rows
            .map((r) => `<tr>${r.map((c) => `<td>${escaped(c)}</td>`).join('')}</tr>`)
            .join('')}</tbody></table>`
        : `<pre>${escaped(shownText(p.reading))}</pre>`;
    return `<section id="i${p.number}"><h2>${p.number} ${escaped(p.label)}</h2>${content}</section>`;
  });
  const list = packed.map(
    (p) =>
      `<li><a href="#i${p.number}">${escaped(p.label)}</a>${p.item.system ? `, ${escaped(p.item.system)}` : ''}</li>`,
  );
  return `<!doctype html><html lang="${escaped(language)}"><meta charset="utf-8"><title>${number}, ${escaped(organisation)}</title>
<style>body{font:16px/1.5 sans-serif;max-width:60em;margin:2em auto;padding:0 1em}table{border-collapse:collapse}td,th{border:1px solid #999;padding:4px 8px;text-align:left;vertical-align:top}pre{white-space:pre-wrap}</style>
<h1>${escaped(organisation)}: ${number}</h1><ol>${list.join('')}</ol>${body.join('')}</html>`;
}

/** What covers something in a document whose font is set. */
const IN_PRINT = '[...]';

function readable(packed: readonly Packed[], number: string, organisation: string): Promise<Buffer> {
  const text = (words: string): Content => ({ text: words, font: 'Mono', fontSize: 8, margin: [0, 2, 0, 2] });
  return makeDocument({
    title: `${organisation}: ${number}`,
    foot: `${organisation}, ${number}`,
    content: [
      title(`${organisation}: ${number}`),
      ...packed.flatMap((p): Content[] => {
        const table = shownTable(p.reading);
        return [
          heading(`${p.number} ${p.label}`),
          ...(p.item.system ? [paragraph(p.item.system, 8, DIM)] : []),
          ...(table.columns.length > 0
            ? table.rows.map((r) =>
                text(
                  r
                    .map((cell, i) => (cell === '' ? '' : `${table.columns[i]}: ${cell}`))
                    .filter(Boolean)
                    .join('\n'),
                ),
              )
            : [text(shownText(p.reading, IN_PRINT))]),
        ];
      }),
    ],
  });
}

async function leftoversOf(
  ctx: Context,
  subject: Subject,
  packed: readonly Packed[],
  files: readonly PackedFile[],
): Promise<readonly Leftover[]> {
  const texts: PackedText[] = [];
  for (const f of files)
    texts.push({
      file: f.name,
      text:
        typeof f.body === 'string'
          ? f.body.replace(/&#(\d+);/g, (_, c: string) => String.fromCharCode(Number(c)))
          : (await readWhole(ctx, { name: f.name, bytes: f.body })).text,
    });
  const values = packed.flatMap((p) =>
    coveredValues(p.reading.text, p.reading.covers).map((v) => ({ value: v, item: p.item.id })),
  );
  const found: Leftover[] = standing(
    values.map((v) => v.value),
    texts,
    subject,
  ).map(({ value, file }) => ({
    ...{ masked: mask(value, 'ends'), file },
    item: values.find((v) => v.value === value)?.item ?? '',
    why: 'covered elsewhere, and in clear here',
  }));
  // Read once more by the engine: people in what nobody looked at by eye.
  for (const p of packed) {
    if (p.item.lookedBy !== null || shownTable(p.reading).columns.length > 0) continue;
    const shown = shownText(p.reading);
    const document = await readDocument(ctx, { name: 'shown.txt', bytes: Buffer.from(shown) });
    const { covers } = proposeCovers(subject, document, recognise(subject, document), document.personal);
    for (const c of covers)
      found.push({
        ...{
          masked: mask(document.text.slice(c.start, c.end), 'ends'),
          file: `texts/${p.number}.txt`,
          item: p.item.id,
        },
        why: 'found when it was read again, and nobody looked',
      });
  }
  return found.slice(0, 200);
}

async function zipped(files: readonly PackedFile[], password: string): Promise<Uint8Array> {
  const zip = new ZipWriter(new Uint8ArrayWriter(), { password, encryptionStrength: 3 });
  for (const f of files)
    await zip.add(f.name, typeof f.body === 'string' ? new TextReader(f.body) : new Uint8ArrayReader(f.body));
  return zip.close();
}

/** Letters and digits that are not taken for each other when told by telephone. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** 5 groups of 5: some 124 bits. */
function newPhrase(): string {
  const group = () => Array.from({ length: 5 }, () => SIGNS[randomInt(SIGNS.length)]).join('');
  return Array.from({ length: 5 }, group).join('-');
}
