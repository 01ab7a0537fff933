import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { openActs, versionInForce, type Act, type Stage } from '../../core/rule.ts';
import {
  COLOUR_WORDS,
  fairness,
  LANGUAGES,
  NoticeContent,
  TEXT_WORDS,
  type Language,
  type NoticeText,
} from '../../core/websites/notice.ts';
import { purposeName } from '../../core/websites/purpose.ts';
import type { SiteDetail } from '../../server/websites/site-detail.ts';
import { useMay } from '../desk/account-context.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { StageBar } from '../parts/StageBar.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { NoticePreview } from './NoticePreview.tsx';
import { useDraft } from './use-draft.ts';
import { useNotice, type NoticeWithVersions } from './use-notice.ts';
import { siteLink } from './WebsitesArea.tsx';
import css from './websites.module.css';

export function NoticeTab({ site }: { readonly site: SiteDetail }) {
  const notice = useNotice(site.host);
  if (notice.isError && !notice.data)
    return <Failure error={notice.error} onRetry={() => void notice.refetch()} />;
  if (!notice.data) return <Loading what="the notice" />;
  return <NoticeEditor site={site} notice={notice.data} />;
}

const ACT_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearse it',
  'end rehearsal': 'End the rehearsal',
  'put in force': 'Put it in force',
  pause: 'Pause it',
  resume: 'Put it back in force',
  retire: 'Retire it',
  reopen: 'Take it up again as a draft',
};

function NoticeEditor({ site, notice }: { readonly site: SiteDetail; readonly notice: NoticeWithVersions }) {
  const client = useQueryClient();
  const mayEdit = useMay('websites.edit');
  const mayForce = useMay('websites.put-in-force');
  const draft = useDraft(site.host, notice);
  const [language, setLanguage] = useState<Language>(notice.content.languages[0] ?? 'en');
  const [refused, setRefused] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const { content, set } = draft;
  const act = async (what: Act['act']) => {
    setBusy(true);
    setRefused(undefined);
    try {
      await request('POST', `/api${siteLink(site.host)}/notice/move`, {
        act: what,
        revision: draft.revision,
      });
      tell(DONE_WORDS[what], undoOf(what) ? { undo: () => act(undoOf(what) as Act['act']) } : {});
      for (const key of ['notice', 'site', 'websites', 'site-soundings'])
        await client.invalidateQueries({ queryKey: [key] });
    } catch (e) {
      if (e instanceof RequestError) setRefused(e);
    } finally {
      setBusy(false);
    }
  };
  const takeBack = async (version: number) => {
    await request('POST', `/api${siteLink(site.host)}/notice/take-back`, { version }).catch(
      (e: unknown) => e instanceof RequestError && setRefused(e),
    );
    await client.invalidateQueries({ queryKey: ['notice'] });
    tell(`The text of version ${version} is back in the draft. Put it in force to show it.`);
  };
  const askable = site.purposes.filter((p) => !p.essential);
  const names = content.purposes.map((p) => purposeName(site.purposes, p)).join(', ');
  const issue = NoticeContent.safeParse(content).error?.issues;
  const wrong = (field: string) =>
    issue?.find((i) => i.path[0] === field)?.message ?? draft.error?.field(field);
  const blocked = fairness(content, site.purposes).some((f) => f.blocks && !f.met);
  return (
    <div className={css['notice']}>
      <StageBar
        stage={notice.stage}
        means={{
          draft: 'edits touch no visitor',
          rehearsing: 'shown to previews and sweeps only',
          inForce: 'shown to every visitor',
          stopped: 'visitors see no notice',
        }}
        acts={
          mayForce
            ? actsOf(notice.stage, notice.changes.length > 0 || notice.lastVersion === 0).map((a) => ({
                act: a,
                words:
                  a === 'put in force' &&
                  versionInForce(notice.stage) !== undefined &&
                  notice.stage.state !== 'rehearsing'
                    ? 'Put the changes in force'
                    : ACT_WORDS[a],
                primary: a === 'put in force' || a === 'resume',
              }))
            : []
        }
        onAct={(a) => void act(a)}
        busy={busy || draft.saving !== 'saved'}
      />
      {refused && (
        <div role="alert" className={css['refused']}>
          <p>◆ {refused.message}</p>
          {refused.refusal.fields.map((f) => (
            <p key={f.message}>{f.message}</p>
          ))}
        </div>
      )}
      {draft.error && (
        <p className={css['leak']}>
          ◆ Not saved: {draft.error.refusal.fields.map((f) => f.message).join(' ') || draft.error.message}
        </p>
      )}
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
      <div className={css['noticeBar']}>
        <div role="group" aria-label="Language of the text" className={css['segments']}>
          {content.languages.map((l) => (
            <button key={l} type="button" aria-pressed={l === language} onClick={() => setLanguage(l)}>
              {LANGUAGES[l]}
            </button>
          ))}
        </div>
        <span role="status" className={css['dim']}>
          {draft.saving === 'saved'
            ? `Saved · edited ${whenWords(notice.editedAt)}${notice.editedBy ? ` by ${notice.editedBy}` : ''}`
            : draft.error
              ? 'Not saved'
              : 'Saving …'}
        </span>
        {draft.undo && <Button onClick={draft.undo}>Undo</Button>}
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
      {notice.changes.length > 0 && (
        <section>
          <h2 className={css['h2']}>What the draft changes in version {notice.lastVersion}</h2>
          <ul className={css['changes']}>
            {notice.changes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </section>
      )}
      {notice.versions.length > 0 && (
        <section>
          <h2 className={css['h2']}>Versions</h2>
          <ul className={css['versions']}>
            {notice.versions.map((v) => (
              <li key={v.version}>
                <b>Version {v.version}</b> {whenWords(v.madeAt)}
                {v.madeBy && ` · ${v.madeBy}`}{' '}
                {v.changes.length > 0 && <span className={css['dim']}>· {v.changes.join('; ')}</span>}
                {mayEdit && v.version !== notice.lastVersion && (
                  <Button kind="quiet" onClick={() => void takeBack(v.version)}>
                    Take it back
                  </Button>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {draft.conflict && <ConflictDialog conflict={draft.conflict} mine={content} onSettle={draft.settle} />}
    </div>
  );
}

/** Putting in force is offered only when there is something new to put in force. */
function actsOf(stage: Stage, changed: boolean): readonly Act['act'][] {
  return openActs(stage).filter((a) =>
    stage.state === 'in force' && (a === 'rehearse' || a === 'put in force') ? changed : true,
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

function undoOf(act: Act['act']): Act['act'] | undefined {
  switch (act) {
    case 'rehearse':
      return 'end rehearsal';
    case 'pause':
      return 'resume';
    case 'resume':
      return 'pause';
    default:
      return undefined;
  }
}

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
