import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import type { Context } from '../../context.ts';
import { readVersion } from '../notices/notices.ts';
import type { Site } from '../sites/sites.ts';
import { fieldsOf } from './consent-lines.ts';
import { openConsent, type ConsentRecord, type OpenedConsent } from './consent-record.ts';
import { listConsents } from './consents.ts';

/** All that proves one choice: what was shown, what was answered, what the visitor chose before and after, and the ledger. */
export interface ProvedConsent extends OpenedConsent {
  /** The notice as it was then. */
  readonly notice: NoticeContent;
  /** Of the same visitor, the newest first. */
  readonly choices: readonly ConsentRecord[];
  /** With the fields of ISO/IEC TS 27560. */
  readonly fields: Awaited<ReturnType<Awaited<ReturnType<typeof fieldsOf>>>>;
}

/** Throws a RefusedError (404). */
export async function proveConsent(ctx: Context, site: Site, id: string): Promise<ProvedConsent> {
  const opened = await openConsent(ctx.store, site.id, id);
  const { version, visitorKey } = opened.record;
  const [notice, choices, toFields] = await Promise.all([
    readVersion(ctx.store, site.id, version),
    listConsents(ctx.store, site.host, { visitor: visitorKey }, undefined, 50),
    fieldsOf(ctx, site),
  ]);
  return { ...opened, notice, choices: choices.rows, fields: await toFields(opened.record) };
}
