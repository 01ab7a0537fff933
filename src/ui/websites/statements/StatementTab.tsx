import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as statementApi from '../../../pages/api/websites/[host]/statement/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
import { Interview, type Block } from '../../../core/websites/statements/statement.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import type { StatementContent } from '../../../server/websites/statements/statements.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { GroundList } from '../../parts/Explanation.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import shared from '../websites.module.css';
import css from './statements.module.css';

/** What the site tells of itself: from its sweep, the records of processing and a short interview. */
export function StatementTab({ site }: { readonly site: SiteDetail }) {
  const [language, setLanguage] = useState('');
  const mayEdit = useMay('websites.edit');
  const mayPublish = useMay('websites.put-in-force');
  const path = `/api${siteLink(site.host)}/statement`;
  const view = useQuery({
    queryKey: ['statement', site.host, language],
    queryFn: () => request<AnswerOf<typeof statementApi.GET>>('GET', `${path}${queryString({ language })}`),
    placeholderData: (b) => b,
  });
  if (view.isError) return <Failure error={view.error} onRetry={() => void view.refetch()} />;
  if (!view.data) return <Loading what="the statement" />;
  const { content, revision, languages, blocks, missing, versions, activities } = view.data;
  const act = async (work: () => Promise<unknown>, words: string) => {
    try {
      await work();
      tell(words);
    } catch (e) {
      tellFailure(e);
    } finally {
      await view.refetch();
    }
  };
  const put = (next: StatementContent) =>
    void act(() => request('PUT', path, { content: next, revision }), 'The statement is made of this now.');
  const address = `${site.visitorOrigin}/${site.siteKey}/statement`;
  return (
    <div className={css['statement']}>
      <InterviewSlots {...{ content, activities, put }} fixed={!mayEdit} />
      <section>
        <h2 className={shared['h2']}>
          {missing.length === 0
            ? 'Nothing that the law asks for is missing'
            : `${countWords(missing.length, 'thing')} missing`}
        </h2>
        <GroundList grounds={missing.map((m) => ({ mark: '◆', words: `${m.what} (${m.law}). ${m.fix}` }))} />
      </section>
      <div className={shared['noticeBar']}>
        <Segments
          label="Language of the statement"
          value={view.data.language}
          options={languages.map((l) => ({ value: l, words: languageName(l) }))}
          onChange={setLanguage}
        />
        {mayPublish && (
          <Button
            kind="primary"
            onClick={() =>
              void act(
                () => request('POST', path, {}),
                missing.length > 0 ? `Published, with ${missing.length} missing.` : 'Published.',
              )
            }
          >
            Publish in {countWords(languages.length, 'language')}
          </Button>
        )}
      </div>
      <article className={css['body']} lang={view.data.language}>
        {blocks.map((b, i) => (
          <BlockView key={i} block={b} />
        ))}
      </article>
      {versions.length > 0 && (
        <section>
          <h2 className={shared['h2']}>Published</h2>
          <ul className={shared['changes']}>
            {versions.map((v) => (
              <li key={v.version}>
                Version {v.version}, {whenWords(v.madeAt)} by {v.by ?? 'someone'}
                {v.missing > 0 && `, ◆ ${v.missing} missing`}:{' '}
                {(['html', 'md'] as const).map((format) => (
                  <a
                    key={format}
                    download
                    href={`${path}/file${queryString({ language: view.data.language, version: String(v.version), format })}`}
                  >
                    {format === 'html' ? 'HTML ' : 'Markdown'}
                  </a>
                ))}
              </li>
            ))}
          </ul>
          <CopyText label="Its address, always the newest" text={address} />
          <CopyText
            label="The table of what the site stores, always as the last sweep found it"
            text={`<iframe src="${site.visitorOrigin}/${site.siteKey}/inventory" title="What this site stores" style="width:100%;height:600px;border:0"></iframe>`}
          />
        </section>
      )}
    </div>
  );
}

const ASKED: readonly (readonly [keyof Interview, string, number])[] = [
  ['controller', 'Who answers for it', 200],
  ['address', 'At which address', 300],
  ['contact', 'Reached how', 200],
  ['officer', 'Data protection officer, or that there is none', 200],
  ['authority', 'Authority to complain to', 200],
  ['mustGive', 'Whether data has to be given, and what follows if not', 500],
];

/** The short interview, and the records of processing that the statement tells of. */
function InterviewSlots({
  content,
  activities,
  put,
  fixed,
}: {
  readonly content: StatementContent;
  readonly activities: readonly { readonly id: string; readonly name: string }[];
  readonly put: (content: StatementContent) => void;
  readonly fixed: boolean;
}) {
  const { interview } = content;
  const answer = (key: keyof Interview, value: string) =>
    put({ ...content, interview: { ...interview, [key]: value } as Interview });
  const text = (key: keyof Interview, label: string, most: number) => (
    <Slot
      label={label}
      words={interview[key] || 'not answered'}
      fixed={fixed}
      edit={{ kind: 'text', most, value: interview[key], long: most > 300, set: (v) => answer(key, v) }}
    />
  );
  return (
    <dl className={css['interview']}>
      {ASKED.map(([key, label, most]) => (
        <div key={key}>
          <dt>{label}</dt>
          <dd>{text(key, label, most)}</dd>
        </div>
      ))}
      <div>
        <dt>A machine decides alone</dt>
        <dd>
          <Slot
            label="Whether a machine decides alone"
            words={interview.automated || 'not answered'}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: interview.automated,
              options: ['no', 'yes'].map((v) => ({ value: v, words: v })),
              set: (v) => answer('automated', v),
            }}
          />
          {interview.automated === 'yes' && <> {text('logic', 'What it decides, and how', 1000)}</>}
        </dd>
      </div>
      <div>
        <dt>Records of processing</dt>
        <dd>
          <Slot
            label="Records of processing it tells of"
            words={
              activities
                .filter((a) => content.activities.includes(a.id))
                .map((a) => a.name)
                .join(', ') || 'none'
            }
            fixed={fixed}
            edit={{
              kind: 'many',
              value: content.activities,
              options: activities.map((a) => ({ value: a.id, words: a.name })),
              set: (ids) => put({ ...content, activities: [...ids] }),
            }}
          />
        </dd>
      </div>
    </dl>
  );
}

function BlockView({ block }: { readonly block: Block }) {
  switch (block.is) {
    case 'heading': {
      const Heading = block.level === 1 ? 'h3' : block.level === 2 ? 'h4' : 'h5';
      return <Heading>{block.text}</Heading>;
    }
    case 'text':
      return <p>{block.text}</p>;
    case 'list':
      return (
        <ul>
          {block.items.map((i) => (
            <li key={i}>{i}</li>
          ))}
        </ul>
      );
    case 'table':
      return (
        <table className={shared['plain']}>
          <thead>
            <tr>
              {block.head.map((h) => (
                <th key={h}>{h}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {block.rows.map((r) => (
              <tr key={r.join(' ')}>
                {r.map((c, i) => (
                  <td key={i}>{c}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      );
  }
}
