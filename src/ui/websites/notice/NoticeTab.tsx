import { useState } from 'react';
import type { Act } from '../../../core/rules/rule.ts';
import { fillSlot, type SlotPart } from '../../../core/rules/sentence.ts';
import type { Json } from '../../../core/rules/change.ts';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import {
  noticeSentence,
  noticeTexts,
  noticeVocabulary,
  toldPurposes,
} from '../../../core/websites/notice/notice-sentence.ts';
import { languageName } from '../../../core/websites/notice/notice-words.ts';
import { shippedText } from '../../../core/websites/notice/shipped-texts.ts';
import { NoticeContent } from '../../../core/websites/notice/notice.ts';
import { EMPTY_TEXT } from '../../../core/websites/notice/notice-text.ts';
import type { Notice } from '../../../server/websites/notices/notices.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { draftFaults } from '../../rules/draft-faults.ts';
import { useDraft } from '../../rules/use-draft.ts';
import { RuleFrame, rulePath } from '../../rules/RuleFrame.tsx';
import { RuleSentence, SentenceSlot } from '../../rules/RuleSentence.tsx';
import { Segments } from '../../parts/Segments.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { FrameworkPart } from './FrameworkPart.tsx';
import { TextsTransfer } from './TextsTransfer.tsx';
import { NoticeTrial } from './NoticeTrial.tsx';
import { NoticePreview } from './NoticePreview.tsx';
import { useNotice } from './use-notice.ts';
import css from '../websites.module.css';

export function NoticeTab({ site }: { readonly site: SiteDetail }) {
  const notice = useNotice(site.host);
  if (notice.isError && !notice.data)
    return <Failure error={notice.error} onRetry={() => void notice.refetch()} />;
  if (!notice.data) return <Loading what="the notice" />;
  return <NoticeEditor site={site} notice={notice.data} />;
}

function NoticeEditor({ site, notice }: { readonly site: SiteDetail; readonly notice: Notice }) {
  const mayEdit = useMay('websites.edit');
  const mayForce = useMay('websites.put-in-force');
  const draft = useDraft(rulePath(notice), notice);
  const [language, setLanguage] = useState(notice.content.languages[0] ?? 'en');
  const { content, set } = draft;
  const wrong = draftFaults(NoticeContent, draft);
  const blocked = fairness(content, site.purposes).some((f) => f.blocks && !f.met);
  return (
    <div className={css['notice']}>
      <RuleFrame
        what="notice"
        vocabulary={noticeVocabulary(site.purposes)}
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
            <FrameworkPart content={content} site={site} set={set} fixed={!mayEdit} error={wrong} />
            <NoticeTrial host={site.host} stage={notice.stage} />
            <div className={css['noticeBar']}>
              <Segments
                label="Language of the text"
                value={language}
                options={content.languages.map((l) => ({ value: l, words: languageName(l) }))}
                onChange={setLanguage}
              />
              {mayEdit && <TextsTransfer {...{ content, language, set }} chosen={setLanguage} />}
            </div>
            <div className={css['noticeColumns']}>
              <Texts content={content} language={language} site={site} fixed={!mayEdit} set={set} />
              <NoticePreview site={site} content={content} language={language} />
            </div>
            {blocked && (
              <p className={css['dim']}>
                ○ What the soundings mark ◆ must be mended before it can be rehearsed or put in force.
              </p>
            )}
          </>
        }
      >
        <RuleSentence
          sentence={noticeSentence(site.host, site.purposes, content.languages)}
          content={content}
          set={(next) => set(withShipped(next))}
          fixed={!mayEdit}
          error={(path) => wrong(path.slice(0, 1))}
        />
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

/** A language that the notice begins to speak brings the texts that ship in it. */
function withShipped(content: NoticeContent): NoticeContent {
  const texts = { ...content.texts };
  for (const language of content.languages) {
    const shipped = shippedText(language);
    if (!texts[language] && shipped) texts[language] = shipped;
  }
  return { ...content, texts };
}

function Texts({
  content,
  language,
  site,
  fixed,
  set,
}: {
  readonly content: NoticeContent;
  readonly language: string;
  readonly site: SiteDetail;
  readonly fixed: boolean;
  readonly set: (c: NoticeContent) => void;
}) {
  const texts = noticeTexts(language, toldPurposes(content, site.purposes), site.purposes);
  const put = (slot: SlotPart, value: Json) => {
    // A language that is new has no texts yet, and a purpose none in it: they are whole once one is given.
    const text = content.texts[language] ?? shippedText(language) ?? EMPTY_TEXT;
    const code = slot.path[3];
    const own = code === undefined ? {} : { [code]: text.purposes[code] ?? { name: '', text: '' } };
    const whole = { ...text, purposes: { ...text.purposes, ...own } };
    set(fillSlot({ ...content, texts: { ...content.texts, [language]: whole } }, slot, value));
  };
  return (
    <dl className={css['texts']} lang={language}>
      {texts.map(({ label, parts }) => (
        <div key={label}>
          <dt lang="en">{label}</dt>
          <dd>
            {parts.map((part, i) =>
              typeof part === 'string' ? (
                part
              ) : (
                <SentenceSlot key={i} slot={part} content={content} fixed={fixed} put={put} />
              ),
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}
