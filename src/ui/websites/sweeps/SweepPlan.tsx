import { useState } from 'react';
import { readClickPath, writeClickPath, type SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { localeOf, regionName, UNKNOWN_REGION } from '../../../core/websites/notice/region.ts';
import { regimeOf, sweepRegions } from '../../../core/websites/notice/regime.ts';
import { versionInForce } from '../../../core/rules/rule.ts';
import type { Schedule } from '../../../core/schedule/schedule.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Sentence } from '../../parts/Sentence.tsx';
import { ScheduleSlots } from '../../parts/ScheduleSlots.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { siteLink } from '../links.ts';
import { useRegimes } from '../regimes/use-regimes.ts';
import { ReadNotice } from './ReadNotice.tsx';
import css from '../websites.module.css';

interface Edit {
  readonly scope?: Partial<Scope>;
  readonly region?: string;
  readonly chosen?: readonly string[];
  readonly paths?: Partial<SitePaths>;
  readonly schedule?: Schedule | null;
}

const PACES: readonly (readonly [number, string])[] = [
  [0, 'as fast as the site answers'],
  [250, 'a page every quarter of a second'],
  [1000, 'a page a second'],
  [5000, 'a page every five seconds'],
  [30_000, 'two pages a minute'],
];
const PATHS: readonly { readonly name: keyof SitePaths; readonly words: string; readonly label: string }[] = [
  { name: 'signIn', words: 'sign in', label: 'Path to sign in' },
  { name: 'refuse', words: 'refuse', label: 'Path to refuse' },
  { name: 'accept', words: 'accept', label: 'Path to accept' },
  { name: 'choose', words: 'choose', label: 'Path to an own choice' },
];
const SHAPES = [null, 100, 50, 25, 10, 5, 3] as const;

/** How a site is swept, as sentences whose slots are edited in place; the next sweep keeps to it. */
export function SweepPlan({ site }: { readonly site: SiteDetail }) {
  const fixed = !useMay('websites.edit');
  const table = useRegimes().data;
  const here = regimeOf(site.region, table);
  const [wrong, setWrong] = useState<{ slot: string; words: string }>();
  const save = async (slot: string, edit: Edit, before: Edit) => {
    const send = async (values: Edit, saw: Edit) => {
      await request('PATCH', `/api${siteLink(site.host)}`, { ...values, saw });
    };
    try {
      await send(edit, before);
      setWrong(undefined);
      tell('The next sweep keeps to this.', { undo: () => send(before, edit) });
    } catch (e) {
      if (e instanceof RequestError && e.refusal.fields.length > 0)
        setWrong({ slot, words: e.refusal.fields.map((f) => f.message).join(' ') });
      else tellFailure(e);
    }
  };
  const errorOf = (slot: string) => (wrong?.slot === slot ? wrong.words : undefined);
  const { scope, schedule } = site;
  const noPath = site.reading
    ? 'as the notice was read'
    : versionInForce(site.stage) === undefined
      ? 'as the next sweep reads the notice'
      : 'by the notice in force';
  const setScope = (slot: string, values: Partial<Scope>) => {
    const before = Object.fromEntries(Object.keys(values).map((k) => [k, scope[k as keyof Scope]]));
    void save(slot, { scope: values }, { scope: before });
  };
  const number = (
    label: string,
    key: 'maxPages' | 'maxMinutes' | 'maxDepth',
    unit: string,
    least: number,
    most: number,
  ) => (
    <Slot
      label={label}
      words={countWords(scope[key], unit)}
      error={errorOf(key)}
      fixed={fixed}
      edit={{
        kind: 'number',
        unit: `${unit}s`,
        least,
        most,
        value: scope[key],
        set: (v) => setScope(key, { [key]: v }),
      }}
    />
  );
  const lines = (label: string, key: 'startPaths' | 'include' | 'exclude', none: string) => (
    <Slot
      label={label}
      words={scope[key].length === 0 ? none : scope[key].join(', ')}
      error={errorOf(key)}
      fixed={fixed}
      edit={{
        kind: 'text',
        long: true,
        most: 8000,
        value: scope[key].join('\n'),
        set: (text) =>
          setScope(key, {
            [key]: text
              .split('\n')
              .map((l) => l.trim())
              .filter(Boolean),
          }),
      }}
    />
  );
  const setSchedule = (next: Schedule | null) => void save('schedule', { schedule: next }, { schedule });
  return (
    <>
      <Sentence label="Sweep">
        as five visitors from{' '}
        <Slot
          label="Region"
          words={regionName(site.region)}
          fixed={fixed}
          title={`${here.regime}: ${here.law}`}
          edit={{
            kind: 'choice',
            value: site.region,
            options: [UNKNOWN_REGION, ...sweepRegions(table)].map((r) => ({
              value: r,
              words: regionName(r),
              detail: regimeOf(r, table).regime,
            })),
            set: (region) => void save('region', { region }, { region: site.region }),
          }}
        />{' '}
        (where the law says <b>{here.regime}</b>), the one with a choice of its own allowing{' '}
        <Slot
          label="Purposes of an own choice"
          words={site.chosen.map((c) => purposeName(site.purposes, c)).join(', ') || 'nothing'}
          fixed={fixed}
          edit={{
            kind: 'many',
            value: site.chosen,
            options: site.purposes.filter((p) => !p.essential).map((p) => ({ value: p.code, words: p.name })),
            set: (chosen) => void save('chosen', { chosen }, { chosen: site.chosen }),
          }}
        />
        ,{' '}
        <ScheduleSlots
          label="Swept by itself"
          schedule={schedule}
          idle="when somebody asks"
          zone={localeOf(site.region).timeZone}
          error={errorOf('schedule')}
          fixed={fixed}
          onSet={setSchedule}
        />
        {schedule && site.nextSweep && <span className={css['dim']}> next {whenWords(site.nextSweep)}</span>}
      </Sentence>
      <Sentence label="Pages">
        at most {number('Most pages', 'maxPages', 'page', 1, 5000)} within{' '}
        {number('Most minutes', 'maxMinutes', 'minute', 1, 240)}, up to{' '}
        {number('Most links from the start', 'maxDepth', 'link', 0, 50)} from the start page
        {' and '}
        {lines('Pages to begin at', 'startPaths', 'no other')}, with{' '}
        <Slot
          label="Site map"
          words={scope.sitemap ? 'what the site map names' : 'no look at the site map'}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: scope.sitemap ? 'yes' : 'no',
            options: [
              { value: 'yes', words: 'what the site map names' },
              { value: 'no', words: 'no look at the site map' },
            ],
            set: (v) => setScope('sitemap', { sitemap: v === 'yes' }),
          }}
        />
        ; only those like {lines('Only pages like', 'include', 'anything')}, none like{' '}
        {lines('No pages like', 'exclude', 'nothing')}; of pages of one shape{' '}
        <Slot
          label="Pages of one shape"
          words={scope.perShape === null ? 'all' : `at most ${scope.perShape}`}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: String(scope.perShape ?? ''),
            options: SHAPES.map((n) => ({
              value: String(n ?? ''),
              words: n === null ? 'all' : `at most ${n}`,
            })),
            set: (v) => setScope('perShape', { perShape: v === '' ? null : Number(v) }),
          }}
        />
        ; robots.txt{' '}
        <Slot
          label="Why robots.txt is not kept to"
          words={scope.robotsOverride ? `not kept to, because “${scope.robotsOverride}”` : 'kept to'}
          error={errorOf('robotsOverride')}
          fixed={fixed}
          title="Give a reason not to keep to it; leave it empty to keep to it."
          edit={{
            kind: 'text',
            most: 500,
            value: scope.robotsOverride,
            set: (robotsOverride) => setScope('robotsOverride', { robotsOverride }),
          }}
        />
        ;{' '}
        <Slot
          label="Pace"
          words={
            PACES.find(([ms]) => ms === scope.paceMs)?.[1] ?? `a page every ${scope.paceMs / 1000} seconds`
          }
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: String(scope.paceMs),
            options: PACES.map(([ms, words]) => ({ value: String(ms), words })),
            set: (v) => setScope('paceMs', { paceMs: Number(v) }),
          }}
        />
      </Sentence>
      {site.reading && <ReadNotice site={site} reading={site.reading} />}
      <Sentence label="Paths">
        {PATHS.map(({ name, words, label }, i) => (
          <span key={name}>
            {i > 0 && ', '}
            {words}{' '}
            <Path
              {...{ site, name, label, fixed, save, errorOf }}
              none={name === 'signIn' ? 'nowhere' : noPath}
            />
          </span>
        ))}
      </Sentence>
    </>
  );
}

/** A recorded path of clicks, a step a line. */
function Path({
  site,
  name,
  label,
  none,
  fixed,
  save,
  errorOf,
}: {
  readonly site: SiteDetail;
  readonly name: keyof SitePaths;
  readonly label: string;
  readonly none: string;
  readonly fixed: boolean;
  readonly save: (slot: string, edit: Edit, before: Edit) => Promise<void>;
  readonly errorOf: (slot: string) => string | undefined;
}) {
  const [unread, setUnread] = useState<{ text: string; words: string }>();
  const path = site.paths[name];
  const set = (text: string) => {
    try {
      const read = readClickPath(text);
      setUnread(undefined);
      void save(name, { paths: { [name]: read } }, { paths: { [name]: path } });
    } catch (e) {
      setUnread({ text, words: (e as Error).message });
    }
  };
  return (
    <Slot
      label={label}
      words={path.length === 0 ? none : `by a path of ${countWords(path.length, 'step')}`}
      error={unread?.words ?? errorOf(name)}
      fixed={fixed}
      title={
        'A step a line: go to /path, click "words", type "text" in #field, type secret "…" in #field, wait for .thing'
      }
      edit={{ kind: 'text', long: true, most: 8000, value: unread?.text ?? writeClickPath(path), set }}
    />
  );
}
