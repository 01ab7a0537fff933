import { useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import type * as tagsApi from '../../../pages/api/websites/[host]/tags.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import type { TagPlan } from '../../../core/websites/gate/tag.ts';
import type { ListedTag } from '../../../server/websites/gate/tags.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import shared from '../websites.module.css';
import { GateSentence } from './GateSentence.tsx';
import { TagSystems } from './TagSystems.tsx';
import { useGate, useTagSystems } from './use-tags.ts';
import css from './tags.module.css';

const RAN: Readonly<Record<NonNullable<ListedTag['ran']>['outcome'], string>> = {
  'too early': '◆ ran too early',
  waited: '▢ waited',
  reduced: '◐ ran reduced',
  ran: '● ran, as it may',
};

/** The tags of a site: what each needs, whether it keeps to an answer by itself, and whether it waited. */
export function TagsTab({ site }: { readonly site: SiteDetail }) {
  const mayEdit = useMay('websites.edit');
  const systems = useTagSystems().data ?? [];
  const client = useQueryClient();
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const at = `/api${siteLink(site.host)}/tags`;
  const say = async (
    tags: readonly { host: string; name: string }[],
    plan: Partial<TagPlan>,
    byHand = false,
  ) => {
    try {
      const before = await request<AnswerOf<typeof tagsApi.POST>>('POST', at, {
        tags: tags.map(({ host, name }) => ({ host, name })),
        ...{ plan, byHand },
      });
      const undo = async () => {
        for (const { host, name, plan: stood } of before)
          await request('POST', at, { tags: [{ host, name }], plan: stood });
      };
      tell(`Said of ${countWords(tags.length, 'tag')}.`, { undo });
      setSelected(new Set());
    } catch (e) {
      tellFailure(e);
    } finally {
      await client.invalidateQueries({ queryKey: ['tags', site.host] });
      await client.invalidateQueries({ queryKey: ['gate', site.host] });
    }
  };
  const isEssential = (t: ListedTag) =>
    t.needs.length > 0 && t.needs.every((n) => site.purposes.some((p) => p.code === n && p.essential));
  const byItself = useGate(site.host).data?.settings.mode === 'by itself';
  const waits = (t: ListedTag) =>
    byItself || t.plan.needs !== null
      ? { words: 'waits', detail: 'is held until its purpose is allowed' }
      : { words: 'as it is marked', detail: 'waits once the page marks it, or you say what it needs' };
  const asked = site.purposes.map((p) => ({ value: p.code, words: p.name }));
  const columns: readonly Column<ListedTag>[] = [
    {
      key: 'tag',
      title: 'Tag',
      width: '34%',
      cell: (t) => (
        <span className={css['tag']} title={t.host + t.name}>
          <b>{t.host}</b>
          <code>{t.name}</code>
        </span>
      ),
    },
    {
      key: 'needs',
      title: 'Needs',
      cell: (t) => (
        <span
          className={shared['purpose']}
          data-unsorted={t.needs.length === 0 || undefined}
          data-proposed={t.plan.needs === null || undefined}
        >
          <Slot
            label={`What ${t.host}${t.name} needs`}
            words={t.needs.map((n) => purposeName(site.purposes, n)).join(', ') || 'not sorted'}
            fixed={!mayEdit}
            edit={{
              kind: 'choice',
              value: t.plan.needs ?? '',
              options: [{ value: '', words: 'as its trackers', detail: 'by what comes of it' }, ...asked],
              set: (needs) => void say([t], { needs: needs || null }),
            }}
          />
        </span>
      ),
    },
    {
      key: 'runs',
      title: 'Until then',
      width: '92px',
      cell: (t) =>
        isEssential(t) ? (
          <span className={shared['dim']}>runs</span>
        ) : (
          <Slot
            label={`What ${t.host}${t.name} does until it is allowed`}
            words={
              t.plan.reduced ? 'runs reduced' : t.plan.checks !== null ? 'checks by itself' : waits(t).words
            }
            fixed={!mayEdit}
            edit={{
              kind: 'choice',
              value: t.plan.reduced ? 'reduced' : t.plan.checks !== null ? String(t.plan.checks) : 'waits',
              options: [
                { value: 'waits', ...waits(t) },
                { value: 'reduced', words: 'runs reduced', detail: 'without identifiers; stores nothing' },
                ...systems.map((s) => ({
                  value: String(s.id),
                  words: 'checks by itself',
                  detail: `as ${s.content.name}, which is told the state`,
                })),
              ],
              set: (v) =>
                void say([t], {
                  reduced: v === 'reduced',
                  checks: v === 'waits' || v === 'reduced' ? null : Number(v),
                }),
            }}
          />
        ),
    },
    {
      key: 'stands',
      title: 'Stands',
      width: '130px',
      optional: true,
      cell: (t) => <span className={css['stands']}>{standsWords(t)}</span>,
    },
    {
      key: 'trackers',
      title: 'Trackers',
      align: 'right',
      optional: true,
      cell: (t) => t.trackers.length,
    },
    {
      key: 'ran',
      title: 'Last visit',
      width: '92px',
      cell: (t) =>
        t.ran ? (
          <a
            className={t.ran.outcome === 'too early' ? shared['leak'] : undefined}
            href={`${siteLink(site.host)}?tab=visits&visit=${t.ran.visit}`}
            title={whenWords(t.ran.at)}
          >
            {RAN[t.ran.outcome]}
          </a>
        ) : (
          <span className={shared['dim']}>not visited</span>
        ),
    },
  ];
  return (
    <>
      <GateSentence site={site} />
      <DataTable
        label="Tags"
        name="tags"
        columns={columns}
        queryKey={['tags', site.host]}
        load={async () => ({ rows: await request<AnswerOf<typeof tagsApi.GET>>('GET', at), next: null })}
        rowKey={(t) => `${t.host} ${t.name}`}
        rowName={(t) => `${t.host}${t.name}`}
        {...(mayEdit ? { selected, onSelect: setSelected } : {})}
        bulk={
          <>
            <span>need</span>
            {site.purposes.map((p) => (
              <Button key={p.code} onClick={() => void say(keysOf(selected), { needs: p.code })}>
                {p.name}
              </Button>
            ))}
            <Button onClick={() => void say(keysOf(selected), { reduced: true })}>run reduced</Button>
            <Button onClick={() => void say(keysOf(selected), { reduced: false, checks: null })}>wait</Button>
          </>
        }
        filters={mayEdit && <ByHand add={(tag) => void say([tag], {}, true)} />}
        empty={
          <Empty title="No tag is known">
            A sweep finds the tags of other companies; one that no sweep has met yet is added by hand.
          </Empty>
        }
      />
      <TagSystems purposes={site.purposes} />
    </>
  );
}

function keysOf(selected: ReadonlySet<string>): { host: string; name: string }[] {
  return [...selected].map((key) => {
    const at = key.indexOf(' ');
    return { host: key.slice(0, at), name: key.slice(at + 1) };
  });
}

function standsWords(t: ListedTag): string {
  if (t.what === 'not seen') return t.byHand ? 'added by hand, not seen yet' : 'not seen by the last sweeps';
  const last = t.placed.at(-1);
  if (!last || !URL.canParse(last.url)) return t.what;
  const path = new URL(last.url).pathname;
  return last.what === 'page'
    ? `${t.what} in the page${last.line === undefined ? '' : `, line ${last.line}`}`
    : `${t.what}, put there by ${path.split('/').at(-1) || path}`;
}

/** A tag that no sweep has met yet. */
function ByHand({ add }: { readonly add: (tag: { host: string; name: string }) => void }) {
  const read = (text: string) => {
    const url = text.includes('://') ? text : `https://${text.replace(/^\/\//, '')}`;
    return URL.canParse(url) && new URL(url).hostname.includes('.') ? new URL(url) : undefined;
  };
  return (
    <Slot
      label="Add a tag by hand"
      words="Add a tag by hand"
      edit={{
        kind: 'text',
        most: 500,
        value: '',
        hint: 'Its address, such as tags.company.example/t.js',
        check: (text) =>
          text.trim() === '' || read(text.trim()) ? '' : 'Write the address of its script or frame',
        set: (text) => {
          const url = text.trim() === '' ? undefined : read(text.trim());
          if (url) add({ host: url.hostname, name: url.pathname });
        },
      }}
    />
  );
}
