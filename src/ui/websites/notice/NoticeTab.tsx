import { useState } from 'react';
import type { Act } from '../../../core/rules/rule.ts';
import {
  COLOUR_WORDS,
  NoticeContent,
  noticeVocabulary,
  type NoticeText,
} from '../../../core/websites/notice/notice.ts';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import { LANGUAGES, TEXT_WORDS, type Language } from '../../../core/websites/notice/notice-words.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { useDraft } from '../../desk/use-draft.ts';
import { RuleFrame } from '../../parts/RuleFrame.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { NoticePreview } from './NoticePreview.tsx';
import { useNotice, type NoticeWithVersions } from './use-notice.ts';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

export function NoticeTab({ site }: { readonly site: SiteDetail }) {
  const notice = useNotice(site.host);
  if (notice.isError && !notice.data)
    return <Failure error={notice.error} onRetry={() => void notice.refetch()} />;
  if (!notice.data) return <Loading what="the notice" />;
  return <NoticeEditor site={site} notice={notice.data} />;
}

function NoticeEditor({ site, notice }: { readonly site: SiteDetail; readonly notice: NoticeWithVersions }) {
  const mayEdit = useMay('websites.edit');
  const mayForce = useMay('websites.put-in-force');
  const draft = useDraft(`/api${siteLink(site.host)}/notice`, notice);
  const [language, setLanguage] = useState<Language>(notice.content.languages[0] ?? 'en');
  const { content, set } = draft;
  const askable = site.purposes.filter((p) => !p.essential);
  const names = content.purposes.map((p) => purposeName(site.purposes, p)).join(', ');
  const issue = NoticeContent.safeParse(content).error?.issues;
  const wrong = (field: string) =>
    issue?.find((i) => i.path[0] === field)?.message ?? draft.error?.field(field);
  const blocked = fairness(content, site.purposes).some((f) => f.blocks && !f.met);
  return (
    <div className={css['notice']}>
      <RuleFrame
        what="notice"
        vocabulary={noticeVocabulary(site.purposes)}
        path={`/api${siteLink(site.host)}/notice`}
        rule={notice}
        draft={draft}
        means={{
          draft: 'edits touch no visitor',
          rehearsing: 'shown to previews and sweeps only',
          inForce: 'shown to every visitor',
          stopped: 'visitors see no notice',
        }}
        done={DONE_WORDS}
        mayEdit={mayEdit}
        mayForce={mayForce}
        below={
          <>
            <div className={css['noticeBar']}>
              <div role="group" aria-label="Language of the text" className={css['segments']}>
                {content.languages.map((l) => (
                  <button key={l} type="button" aria-pressed={l === language} onClick={() => setLanguage(l)}>
                    {LANGUAGES[l]}
                  </button>
                ))}
              </div>
            </div>
            <div className={css['noticeColumns']}>
              <Texts content={content} language={language} site={site} fixed={!mayEdit} set={set} />
              <NoticePreview
                origin={site.visitorOrigin}
                siteKey={site.siteKey}
                content={content}
                language={language}
              />
            </div>
            {blocked && (
              <p className={css['dim']}>
                ○ What the soundings mark ◆ must be mended before it can be rehearsed or put in force.
              </p>
            )}
          </>
        }
      >
        <Sentence label="Ask">
          visitors of {site.host} for{' '}
          <Slot
            label="Purposes asked for"
            words={names}
            error={wrong('purposes')}
            fixed={!mayEdit}
            edit={{
              kind: 'many',
              value: content.purposes,
              options: askable.map((p) => ({ value: p.code, words: p.name })),
              set: (purposes) => set({ ...content, purposes: [...purposes] }),
            }}
          />
          ; Essential is told, never asked
        </Sentence>
        <Sentence label="In">
          <Slot
            label="Languages"
            words={content.languages.map((l) => LANGUAGES[l]).join(', ')}
            error={wrong('languages')}
            fixed={!mayEdit}
            edit={{
              kind: 'many',
              value: content.languages,
              options: Object.entries(LANGUAGES).map(([value, words]) => ({ value, words })),
              set: (languages) => set({ ...content, languages: languages as Language[] }),
            }}
          />
          , by the page’s language, then the visitor’s
        </Sentence>
        <Sentence label="Again">
          after{' '}
          <Slot
            label="Ask again after"
            words={`${content.askAgainMonths} months`}
            error={wrong('askAgainMonths')}
            fixed={!mayEdit}
            edit={{
              kind: 'number',
              unit: 'months',
              least: 1,
              most: 24,
              value: content.askAgainMonths,
              set: (askAgainMonths) => set({ ...content, askAgainMonths }),
            }}
          />
          , or when other purposes are asked for
        </Sentence>
        <Sentence label="Looks">
          {(['background', 'text', 'button', 'buttonText'] as const).map((key, i) => (
            <span key={key}>
              {i > 0 && ', '}
              {COLOUR_WORDS[key]} in{' '}
              <span className={css['swatch']} style={{ background: content.colours[key] }} aria-hidden />{' '}
              <Slot
                label={`Colour of the ${COLOUR_WORDS[key]}`}
                words={content.colours[key]}
                fixed={!mayEdit}
                edit={{
                  kind: 'text',
                  most: 7,
                  colour: true,
                  value: content.colours[key],
                  set: (v) => set({ ...content, colours: { ...content.colours, [key]: v } }),
                }}
              />
            </span>
          ))}
        </Sentence>
        <Sentence label="Links to">
          <Slot
            label="Privacy policy"
            words={content.policyUrl || 'no policy'}
            error={wrong('policyUrl')}
            fixed={!mayEdit}
            edit={{
              kind: 'text',
              most: 500,
              value: content.policyUrl,
              set: (policyUrl) => set({ ...content, policyUrl: policyUrl.trim() }),
            }}
          />
        </Sentence>
      </RuleFrame>
    </div>
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: previews and sweeps see it, visitors do not.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: visitors see it from now on.',
  pause: 'Paused: visitors see no notice, and everything marked is held.',
  resume: 'In force again.',
  retire: 'Retired: visitors see no notice, and everything marked is held. It can be taken up again.',
  reopen: 'A draft again.',
};

const LINES = ['title', 'body', 'accept', 'refuse', 'choose', 'save', 'reopen'] as const;
const EMPTY: NoticeText = {
  title: '',
  body: '',
  accept: '',
  refuse: '',
  choose: '',
  save: '',
  reopen: '',
  purposes: {},
};

function Texts({
  content,
  language,
  site,
  fixed,
  set,
}: {
  readonly content: NoticeContent;
  readonly language: Language;
  readonly site: SiteDetail;
  readonly fixed: boolean;
  readonly set: (c: NoticeContent) => void;
}) {
  const text = content.texts[language] ?? EMPTY;
  const change = (next: NoticeText) => set({ ...content, texts: { ...content.texts, [language]: next } });
  const codes = [...site.purposes.filter((p) => p.essential).map((p) => p.code), ...content.purposes];
  return (
    <dl className={css['texts']} lang={language}>
      {LINES.map((key) => (
        <div key={key}>
          <dt lang="en">{TEXT_WORDS[key]}</dt>
          <dd>
            <Slot
              label={TEXT_WORDS[key]}
              words={text[key]}
              fixed={fixed}
              edit={{
                kind: 'text',
                long: key === 'body',
                most: key === 'body' ? 1200 : key === 'title' ? 120 : 40,
                value: text[key],
                set: (v) => change({ ...text, [key]: v }),
              }}
            />
          </dd>
        </div>
      ))}
      {codes.map((code) => {
        const own = text.purposes[code] ?? { name: '', text: '' };
        const name = purposeName(site.purposes, code);
        const put = (next: { name: string; text: string }) =>
          change({ ...text, purposes: { ...text.purposes, [code]: next } });
        return (
          <div key={code}>
            <dt lang="en">{name}</dt>
            <dd>
              <Slot
                label={`Name of ${name}`}
                words={own.name}
                fixed={fixed}
                edit={{ kind: 'text', most: 60, value: own.name, set: (v) => put({ ...own, name: v }) }}
              />
              {': '}
              <Slot
                label={`Text of ${name}`}
                words={own.text}
                fixed={fixed}
                edit={{
                  kind: 'text',
                  long: true,
                  most: 400,
                  value: own.text,
                  set: (v) => put({ ...own, text: v }),
                }}
              />
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
