import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import { MADE_UP_LIST } from '../../../src/core/websites/tcf/made-up-list.ts';
import { everythingOf, NOTHING_CHOSEN, tcOffer } from '../../../src/core/websites/tcf/tc-offer.ts';
import { readTc, tcString, type TcMade } from '../../../src/core/websites/tcf/tc-string.ts';
import { firstTcf } from '../../../src/core/websites/tcf/tcf-settings.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { openConsent } from '../../../src/server/websites/consents/consent-record.ts';
import {
  readVendorList,
  takeVendorList,
  vendorListFigures,
} from '../../../src/server/websites/notices/vendor-lists.ts';
import { testAccount, testContext, testSite } from '../context.ts';
import { moveNotice, saveDraft } from '../notice.ts';
import { sendFile } from '../sent-file.ts';
import { RunningVisitor } from './running-visitor.ts';

const plain = testContext();
const ctx = { ...plain, settings: { ...plain.settings, TRUST_PROXY: 'yes' as const } };
const base = firstNotice();
const ASKED = base.purposes;
const TCF = { ...firstTcf(Object.keys(MADE_UP_LIST.vendors).map(Number), ASKED), cmpId: 300 };
let visitor: RunningVisitor;
let site: Awaited<ReturnType<typeof testSite>>;
let account: Awaited<ReturnType<typeof testAccount>>;

beforeAll(async () => {
  visitor = await RunningVisitor.start(ctx);
  account = await testAccount(ctx);
  site = await testSite(ctx);
  await saveDraft(ctx, account.id, site.host, 1, base, { ...base, tcf: TCF });
  await moveNotice(ctx, account.id, site.host, 'put in force', 2);
});
afterAll(async () => {
  visitor.stop();
  await ctx.store.close();
});

const made = (over: Partial<TcMade> = {}) =>
  tcString({
    ...{ list: MADE_UP_LIST, settings: TCF, asked: ASKED, layer: 'first', at: new Date() },
    choice: everythingOf(tcOffer(MADE_UP_LIST, TCF, ASKED)),
    ...over,
  });
const script = async (region: string) =>
  (await fetch(`${visitor.origin}/${site.siteKey}.js`, { headers: { 'x-region': region } })).text();

describe('a site of the framework', () => {
  it('is served its stand-in, its settings by where the visitor is, and its vendors alone', async () => {
    const header = ctx.settings.REGION_HEADER;
    const from = async (region: string) =>
      (await fetch(`${visitor.origin}/${site.siteKey}.js`, { headers: { [header]: region } })).text();
    expect(await from('DK')).toMatch(/"applies":true[\s\S]*STUB;SCRIPT/);
    expect(await from('US-CA')).toContain('"applies":false');
    const list = (await (
      await fetch(`${visitor.origin}/${site.siteKey}/vendors`)
    ).json()) as typeof MADE_UP_LIST;
    expect(Object.keys(list.vendors)).toEqual(['2', '5', '8', '13', '21', '34']);
    const other = await testSite(ctx);
    await moveNotice(ctx, account.id, other.host, 'put in force', 1);
    expect((await fetch(`${visitor.origin}/${other.siteKey}/vendors`)).status).toBe(404);
    expect(await (await fetch(`${visitor.origin}/${other.siteKey}.js`)).text()).not.toContain('STUB;');
    expect(await script('DK')).toContain('YARE_TCF=');
  });

  it('has what tags are told on record with the choice, in its receipt and its proof', async () => {
    const tc = made();
    const answer = await visitor.send(site, visitor.choice(site.siteKey, { allowed: ASKED, tc }));
    expect(answer.status).toBe(201);
    const { id } = await visitor.receiptOf(answer);
    await seal(ctx.store, ctx.now());
    const opened = await openConsent(ctx.store, site.id, id);
    expect(opened).toMatchObject({ receipt: { tc }, matches: true });
    await ctx.store.run('UPDATE consent_record SET tc = ? WHERE visitor_key = ?', [
      made({ choice: NOTHING_CHOSEN }),
      Buffer.from(opened.record.visitorKey, 'hex'),
    ]);
    expect((await openConsent(ctx.store, site.id, id)).matches).toBe(false);
    await ctx.store.run('UPDATE consent_record SET tc = ? WHERE visitor_key = ?', [
      tc,
      Buffer.from(opened.record.visitorKey, 'hex'),
    ]);
  });

  it('takes no string that was not made by its notice, or that says more than the choice', async () => {
    const refused = async (tc: string, allowed: readonly string[]) => {
      const answer = await visitor.send(site, visitor.choice(site.siteKey, { allowed: [...allowed], tc }));
      return {
        status: answer.status,
        ...((await answer.json()) as { fields: { field: string; message: string }[] }),
      };
    };
    expect(await refused(made(), ['measurement'])).toMatchObject({
      ...{ status: 400, fields: [{ field: 'tc', message: 'It allows a purpose that the choice does not.' }] },
    });
    expect((await refused(made({ settings: { ...TCF, cmpId: 4 } }), ASKED)).fields[0]?.message).toContain(
      'CMP 4',
    );
    expect((await refused('A'.repeat(100), ASKED)).status).toBe(400);
    expect((await refused('<b>', ASKED)).status).toBe(400);
    // Without one it is a choice like any other.
    expect((await visitor.send(site, visitor.choice(site.siteKey))).status).toBe(201);
  });

  it('cannot be put in force with what the law forbids, and says why', async () => {
    const one = await testSite(ctx);
    await saveDraft(ctx, account.id, one.host, 1, base, {
      ...{ ...base, tcf: { ...TCF, interests: 'on', restrictions: { '1': 'interest only' } } },
    });
    await expect(moveNotice(ctx, account.id, one.host, 'put in force', 2)).rejects.toMatchObject({
      fields: [
        { message: expect.stringMatching(/^Purpose 1 rests on consent alone/) as string },
        { message: expect.stringMatching(/the law asks first/) as string },
      ],
    });
  });
});

describe('a vendor list', () => {
  const take = async (content: string) =>
    takeVendorList(ctx, account.id, await sendFile(ctx, account.id, 'list.json', Buffer.from(content)));

  it('of the standard’s format is taken in the place of the one that ships, and nothing else is', async () => {
    await expect(take('{')).rejects.toMatchObject({ fields: [{ field: 'upload' }] });
    await expect(take(JSON.stringify({ ...MADE_UP_LIST, tcfPolicyVersion: 2 }))).rejects.toMatchObject({
      fields: [{ field: 'tcfPolicyVersion' }],
    });
    expect(await vendorListFigures(ctx.store)).toMatchObject({ version: 1, takenAt: null });
    const { 34: _gone, ...vendors } = MADE_UP_LIST.vendors;
    const next = { ...MADE_UP_LIST, vendorListVersion: 2, vendors, stacks: {}, extra: 'let go' };
    expect(await take(JSON.stringify(next))).toEqual({ version: 2, vendors: 5 });
    expect((await readVendorList(ctx.store)).vendorListVersion).toBe(2);
    // Whoever names a vendor that is gone is told so before the notice can be in force again.
    const one = await testSite(ctx);
    await saveDraft(ctx, account.id, one.host, 1, base, { ...base, tcf: TCF });
    await expect(moveNotice(ctx, account.id, one.host, 'put in force', 2)).rejects.toMatchObject({
      fields: [{ message: 'The vendor list has no vendor 34: take it out.' }],
    });
    await ctx.store.run('DELETE FROM vendor_list');
    expect(readTc(made())?.listVersion).toBe(1);
  });
});
