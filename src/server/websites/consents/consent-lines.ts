import { consent27560 } from '../../../core/websites/consents/consent-27560.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import type { Context } from '../../context.ts';
import type { WishInput } from '../../lists/list-source.ts';
import { readVersion } from '../notices/notices.ts';
import { listPurposes } from '../notices/purposes.ts';
import { readRegimes } from '../notices/regimes.ts';
import type { Site } from '../sites/sites.ts';
import { receiptOf, type ConsentRecord } from './consent-record.ts';
import { listConsents } from './consents.ts';

const AT_ONCE = 500;

/** Records with the fields of ISO/IEC TS 27560, a line each, however many there are. */
export async function* consentLines(ctx: Context, site: Site, wish: WishInput): AsyncGenerator<string> {
  const toFields = await fieldsOf(ctx, site);
  for (let after: string | undefined; ;) {
    const page = await listConsents(ctx.store, site.host, wish, after, AT_ONCE);
    let lines = '';
    for (const record of page.rows) lines += `${JSON.stringify(await toFields(record))}\n`;
    if (lines) yield lines;
    if (page.next === null) return;
    after = page.next;
  }
}

/** What makes a record's fields; versions of the notice are read once each. */
export async function fieldsOf(ctx: Context, site: Site) {
  const [purposes, regimes] = [await listPurposes(ctx.store), await readRegimes(ctx.store)];
  const versions = new Map<number, NoticeContent>();
  return async (record: ConsentRecord) => {
    const { version, visitorKey } = record;
    const notice = versions.get(version) ?? (await readVersion(ctx.store, site.id, version));
    versions.set(version, notice);
    const controller = { name: site.name, site: site.host };
    return consent27560(receiptOf(site.host, record), visitorKey, notice, purposes, controller, regimes);
  };
}
