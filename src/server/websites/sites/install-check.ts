import { join } from 'node:path';
import { z } from 'zod';
import { installVerdict, type InstallFacts } from '../../../core/websites/trackers/install.ts';
import { versionRehearsed } from '../../../core/rules/rule.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addJob, openJobAbout } from '../../jobs/job.ts';
import type { JobKind } from '../../jobs/runner.ts';
import { findNotice } from '../notices/notices.ts';
import { rehearsalToken } from '../visitor/rehearsal-token.ts';
import { findSite, findSiteById, type InstallResult, type Site } from './sites.ts';
import { destinationRules } from '../../http/allowed-destination.ts';
import { startVisit } from '../crawl/browser/chromium.ts';
import { load } from '../crawl/page/load-page.ts';
import { OutboundProxy } from '../crawl/browser/outbound-proxy.ts';
import { PageProbe } from '../crawl/page/page-probe.ts';

/** Queues the check by a browser that the script is there, first, and works. */
export async function startInstallCheck(
  ctx: Context,
  accountId: number,
  host: string,
): Promise<{ job: string }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const about = { object: 'site', id: site.id };
    const open = await openJobAbout(tx, 'install-check', about);
    if (open !== undefined) return { job: open };
    const job = await addJob(tx, ctx.now(), {
      kind: 'install-check',
      title: `Check of the script on ${host}`,
      about,
      within: [{ kind: 'site', id: String(site.id) }],
      payload: { site: site.id },
      createdBy: accountId,
      link: `/websites/${host}?tab=install`,
      maxAttempts: 2,
    });
    return { job };
  });
}

const Payload = z.object({ site: z.number() });

export const installCheckJob: JobKind = {
  kind: 'install-check',
  lane: 'quick',
  see: 'websites.read',
  start: 'websites.sweep',
  work: async (ctx, run) => {
    const site = await findSiteById(ctx.store, Payload.parse(run.job.payload).site);
    const notice = await findNotice(ctx.store, site.host);
    run.progress({ words: 'opening the start page', share: null, secondsLeft: null });
    const facts = await readFacts(ctx, site, versionRehearsed(notice.stage) !== undefined);
    const result: InstallResult = { at: ctx.now().toISOString(), steps: [...installVerdict(facts)] };
    const met = result.steps.every((s) => s.met);
    await ctx.store.transaction(async (tx) => {
      await tx.run('UPDATE site SET install = ? WHERE id = ?', [JSON.stringify(result), site.id]);
      await record(tx, ctx.now(), {
        actor: 'worker',
        action: 'install.check',
        object: 'site',
        objectId: site.id,
        detail: { met, troubles: result.steps.filter((s) => !s.met).map((s) => s.words) },
      });
    });
    return { met };
  },
};

async function readFacts(ctx: Context, site: Site, noticeExpected: boolean): Promise<InstallFacts> {
  const { settings } = ctx;
  const nothing: InstallFacts = {
    reached: false,
    position: -1,
    scripts: 0,
    waits: false,
    siteKeyMatches: false,
    started: false,
    noticeShown: false,
    noticeExpected,
    error: '',
  };
  const guard = new OutboundProxy(destinationRules(settings), 25 * 1024 * 1024);
  const visit = await startVisit({
    executable: settings.CHROMIUM,
    profiles: join(settings.DATA_DIR, 'profiles'),
    proxy: await guard.listen(),
  });
  try {
    const page = await visit.context.newPage();
    const probe = await PageProbe.attach(page);
    await probe.interception.addHeaders(settings.VISITOR_ORIGIN, {
      'x-yare-rehearsal': rehearsalToken(settings.SECRET_KEY, site.site_key, ctx.now()),
    });
    const loaded = await load(probe, site.start_url);
    if (!loaded.sound || loaded.status === null || loaded.status >= 400)
      return {
        ...nothing,
        error: loaded.sound ? `It answered ${loaded.status ?? 'nothing'}.` : `${loaded.note}.`,
      };
    await probe.settled(300, 3000);
    const { world } = probe;
    const found = await world.run(world.main, standing, settings.VISITOR_ORIGIN, Standing);
    const started = (await probe.ownText('globalThis.yare?.site')) === site.site_key;
    return {
      reached: true,
      position: found.position,
      scripts: found.scripts,
      waits: found.waits,
      siteKeyMatches: found.src.includes(`/${site.site_key}.js`),
      started,
      noticeShown: found.noticeShown,
      noticeExpected,
      error:
        found.position >= 0 && !started
          ? 'The script is on the page but did not run. A content security policy may forbid it: allow the visitor service as a script source and for connections.'
          : '',
    };
  } finally {
    await visit.close();
    await guard.close();
  }
}

const Standing = z.object({
  position: z.int(),
  scripts: z.int(),
  waits: z.boolean(),
  src: z.string().max(2000),
  noticeShown: z.boolean(),
});

/** Runs in the page. */
function standing(origin: string): z.infer<typeof Standing> {
  const all = [...Document.prototype.querySelectorAll.call(document, 'script')] as HTMLScriptElement[];
  // Data blocks and held scripts run nothing, so they cannot come first.
  const scripts = all.filter((s) => !s.type || /javascript|module/i.test(s.type));
  const position = scripts.findIndex((s) => s.src.startsWith(`${origin}/`));
  const ours = scripts[position];
  const query = Document.prototype.querySelector;
  const notice = (query.call(document, 'yare-notice') as Element | null)?.shadowRoot?.querySelector(
    'section',
  );
  const box = notice?.getBoundingClientRect();
  const hit =
    box &&
    Document.prototype.elementFromPoint.call(
      document,
      box.x + box.width / 2,
      box.y + Math.min(20, box.height / 2),
    );
  return {
    position,
    scripts: scripts.length,
    waits: ours !== undefined && (ours.async || ours.defer || ours.type === 'module'),
    src: (ours?.src ?? '').slice(0, 2000),
    noticeShown: box !== undefined && box.height > 0 && hit?.localName === 'yare-notice',
  };
}
