import { useStore } from '@nanostores/react';
import type * as websitesHostApi from '../../../pages/api/websites/[host]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { versionInForce } from '../../../core/rules/rule.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { deskState } from '../../desk/live.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading, ProgressBar } from '../../parts/states.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Tabs } from '../../parts/Tabs.tsx';
import { lazyPart } from '../../parts/lazy-part.tsx';
import { TrackersTab } from '../trackers/TrackersTab.tsx';
import css from '../websites.module.css';
import { openTab, siteLink, SITE_TABS, TAB_NAMES, type SiteTab } from '../links.ts';

const ConsentsTab = lazyPart(
  'consent records',
  async () => (await import('../consents/ConsentsTab.tsx')).ConsentsTab,
);
const InstallTab = lazyPart('the install check', async () => (await import('./InstallTab.tsx')).InstallTab);
const NoticeTab = lazyPart('the notice', async () => (await import('../notice/NoticeTab.tsx')).NoticeTab);
const RatesTab = lazyPart('the rates', async () => (await import('../rates/RatesTab.tsx')).RatesTab);
const StatementTab = lazyPart(
  'the statement',
  async () => (await import('../statements/StatementTab.tsx')).StatementTab,
);
const TagsTab = lazyPart('the tags', async () => (await import('../tags/TagsTab.tsx')).TagsTab);
const VisitsTab = lazyPart('the visits', async () => (await import('../visits/VisitsTab.tsx')).VisitsTab);
const SweepsTab = lazyPart('the sweeps', async () => (await import('../sweeps/SweepsTab.tsx')).SweepsTab);

export function useSite(host: string) {
  return useQuery({
    queryKey: ['site', host],
    queryFn: () => request<AnswerOf<typeof websitesHostApi.GET>>('GET', `/api${siteLink(host)}`),
  });
}

export function SiteSheet({ host }: { readonly host: string }) {
  const { query } = useDeskLocation();
  const site = useSite(host);
  const job = useSiteJob(host);
  if (site.isError && !site.data) return <Failure error={site.error} onRetry={() => void site.refetch()} />;
  if (!site.data) return <Loading what={host} />;
  const asked = query.get('tab') as SiteTab | null;
  const tab = asked && SITE_TABS.includes(asked) ? asked : 'trackers';
  const { data } = site;
  return (
    <>
      <SheetHead
        title={data.host}
        detail={<Detail site={data} />}
        actions={<Actions site={data} sweeping={job?.kind === 'sweep'} />}
      />
      {job && (
        <ProgressBar
          label={job.title}
          share={job.progress?.share ?? null}
          words={`${job.title}: ${job.stopping ? 'stopping; what it found is kept' : (job.progress?.words ?? 'waiting for its turn')}`}
        />
      )}
      <Tabs
        label="Parts of the site"
        tabs={SITE_TABS.map((id) => ({
          id,
          name: TAB_NAMES[id],
          count: id === 'trackers' && data.sweep ? data.counts.all : undefined,
        }))}
        chosen={tab}
        onChoose={openTab}
      />
      <div role="tabpanel" id="tabpanel" aria-labelledby={`tab-${tab}`}>
        {tab === 'trackers' && <TrackersTab site={data} />}
        {tab === 'notice' && <NoticeTab site={data} />}
        {tab === 'rates' && <RatesTab site={data} />}
        {tab === 'statement' && <StatementTab site={data} />}
        {tab === 'tags' && <TagsTab site={data} />}
        {tab === 'visits' && <VisitsTab site={data} />}
        {tab === 'install' && <InstallTab site={data} />}
        {tab === 'consents' && <ConsentsTab site={data} />}
        {tab === 'sweeps' && <SweepsTab site={data} />}
      </div>
    </>
  );
}

function Detail({ site }: { readonly site: SiteDetail }) {
  const mayEdit = useMay('websites.edit');
  const force = versionInForce(site.stage);
  const since =
    site.stage.state === 'in force'
      ? site.stage.since
      : site.stage.state === 'rehearsing'
        ? site.stage.over?.since
        : undefined;
  const rename = async (name: string) => {
    try {
      await request('PATCH', `/api${siteLink(site.host)}`, { name, saw: { name: site.name } });
    } catch (e) {
      tellFailure(e);
    }
  };
  const inForce =
    force !== undefined && since ? `notice ${force} in force since ${dayWords(since)}` : 'no notice in force';
  const parts = [
    site.sweep ? countWords(site.sweep.pages, 'page') : '',
    site.retired ? '○ retired: visitors see no notice' : inForce,
    site.sweep
      ? `swept ${whenWords(site.sweep.finished_at ?? site.sweep.created_at)} as ${countWords(site.sweep.visitors.length, 'visitor')}`
      : 'never swept',
  ];
  return (
    <>
      <span className={css['siteName']}>
        <Slot
          label="Name of the site"
          words={site.name}
          fixed={!mayEdit}
          edit={{ kind: 'text', most: 120, value: site.name, set: (name) => void rename(name) }}
        />
      </span>
      {` · ${parts.filter(Boolean).join(' · ')}`}
    </>
  );
}

function Actions({ site, sweeping }: { readonly site: SiteDetail; readonly sweeping: boolean }) {
  const maySweep = useMay('websites.sweep');
  const [busy, setBusy] = useState(false);
  const sweep = async () => {
    setBusy(true);
    try {
      await request('POST', `/api${siteLink(site.host)}/sweeps`, {});
      tell(`Sweeping ${site.host} as five visitors. You can leave this page.`);
    } catch (e) {
      tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  const leaks = site.counts.leaks;
  return (
    <>
      {maySweep && (
        <Button
          kind={leaks > 0 ? 'plain' : 'primary'}
          busy={busy}
          disabled={sweeping}
          onClick={() => void sweep()}
        >
          {sweeping ? 'Being swept' : site.sweep ? 'Sweep again' : 'Sweep this site'}
        </Button>
      )}
      {leaks > 0 && (
        <Button kind="primary" onClick={() => setQuery({ tab: null, show: 'leaks', tracker: null }, 'push')}>
          {leaks === 1 ? 'Fix the leak' : `Fix the ${leaks} leaks`}
        </Button>
      )}
    </>
  );
}

/** The running job of this site; how it ended is told. */
function useSiteJob(host: string) {
  const state = useStore(deskState);
  const job = state?.jobs.find(
    (j) => j.link?.startsWith(siteLinkPlain(host)) && (j.state === 'running' || j.state === 'waiting'),
  );
  const id = job?.id;
  useEffect(() => {
    if (!id) return;
    return () => {
      const ended = deskState.get()?.jobs.find((j) => j.id === id);
      if (ended?.state === 'failed')
        tell(`${ended.title} failed: ${ended.error ?? 'no reason was given'}`, { kind: 'trouble' });
      else if (ended?.state === 'done') tell(`${ended.title} is done.`);
    };
  }, [id]);
  return job;
}

/** Jobs keep their link as the server wrote it, with the host as it is. */
function siteLinkPlain(host: string): string {
  return `/websites/${host}`;
}
