import { insertConsents } from '../../src/server/websites/consents/consent-record.ts';
import { insertKnown } from '../../src/server/websites/library/known-trackers.ts';
import { NOTICE } from '../../src/server/websites/notices/notice-kind.ts';
import { insertVersion } from '../../src/server/websites/notices/notices.ts';
import { showSiteOnToday } from '../../src/server/websites/sites/site-today.ts';
import { insertSite } from '../../src/server/websites/sites/sites.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { line } from '../ledger.ts';
import { placeRule } from '../place-rule.ts';
import { demoConsents, type DemoConsent } from './consents.ts';
import { DEMO_LIBRARY } from './library.ts';
import { DEMO_SITES, type DemoSite } from './notices.ts';
import { loadPreferences } from './preferences.ts';
import { loadRecordedSweeps } from './recorded-sweeps.ts';

export const WEBSITES: DemoArea = { area: 'websites', load };

async function load(demo: Demo): Promise<void> {
  const { ctx, tx, lines } = demo;
  const manager = demo.person('Priya Nand');
  const consents: DemoConsent[] = [];
  for (const site of DEMO_SITES) {
    const host = `${site.host}:${ctx.settings.STANDIN_PORT}`;
    const { id } = await insertSite(tx, demo.at(90), {
      host,
      startUrl: `http://${host}/`,
      name: site.name,
      by: manager,
      region: site.host.startsWith('cruises') ? 'US-CA' : 'DK',
    });
    lines.push(line(demo.at(90), manager, 'site.add', 'site', id, { host }));
    await loadNotice(demo, site, id);
    consents.push(...demoConsents(site, id, host, demo.now, demo.random));
    demo.afterwards(() => showSiteOnToday(tx, id));
  }
  loadConsents(demo, consents);
  await insertKnown(tx, DEMO_LIBRARY, manager, demo.at(40));
  await loadRecordedSweeps(demo, manager);
  await loadPreferences(demo, manager);
}

async function loadNotice(demo: Demo, site: DemoSite, id: number): Promise<void> {
  const { tx, lines } = demo;
  const [officer, manager] = [demo.person('Ines Abara'), demo.person('Priya Nand')];
  for (const [i, v] of site.versions.entries()) {
    await insertVersion(tx, demo.at(v.daysAgo), id, i + 1, v.content, manager);
    const act =
      site.stage(() => '').state === 'rehearsing' && i === site.versions.length - 1
        ? 'rehearse'
        : 'put-in-force';
    lines.push(line(demo.at(v.daysAgo), officer, `notice.${act}`, 'notice', id, { version: i + 1 }));
  }
  const stage = site.stage((d) => demo.at(d).toISOString());
  await placeRule(tx, NOTICE, id, {
    content: site.draft,
    stage,
    versions: site.versions.length,
    editedAt: demo.at(site.versions.at(-1)?.daysAgo ?? 90),
    editedBy: manager,
  });
}

function loadConsents(demo: Demo, consents: readonly DemoConsent[]): void {
  const { tx, lines } = demo;
  demo.tell(`${consents.length.toLocaleString('en')} consent records over 90 days`);
  for (const { receipt, digest } of consents)
    lines.push(
      line(new Date(receipt.at), 'visitor', 'consent.record', 'consent', receipt.id, { receipt: digest }),
    );
  demo.afterwards(async (places) => {
    for (let i = 0; i < consents.length; i += 1000)
      await insertConsents(
        tx,
        consents.slice(i, i + 1000).map((c) => ({ ...c, ledgerId: places.get(c.receipt.id) as number })),
      );
  });
}
