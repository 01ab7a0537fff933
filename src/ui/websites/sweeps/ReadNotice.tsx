import { purposeName } from '../../../core/websites/notice/purpose.ts';
import {
  OUTCOME_WORDS,
  type NoticeCorrection,
  type NoticeReading,
} from '../../../core/websites/reading/notice-reading.ts';
import { sameWay, wayWords, type NoticeWay } from '../../../core/websites/reading/notice-way.ts';
import type { Choice } from '../../../core/websites/trackers/visitor.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

const CHOICES: readonly (readonly [Choice, string])[] = [
  ['refuse', 'refused by'],
  ['accept', 'accepted by'],
  ['choose', 'chosen from by'],
];

/** How the site's notice is read: which way through it does what, and why; each is corrected in place. */
export function ReadNotice({
  site,
  reading,
}: {
  readonly site: SiteDetail;
  readonly reading: NoticeReading;
}) {
  const fixed = !useMay('websites.edit');
  const path = `/api${siteLink(site.host)}/reading`;
  const correct = async (correction: NoticeCorrection, before: NoticeCorrection | undefined) => {
    const send = (c: NoticeCorrection) => request('PATCH', path, { ...c, readAt: reading.readAt });
    try {
      await send(correction);
      const undo = before && { undo: async () => void (await send(before)) };
      tell('The next sweep keeps to this.', undo);
    } catch (e) {
      tellFailure(e);
    }
  };
  const anew = async () => {
    try {
      await request('DELETE', path, {});
      tell('The next sweep reads the notice anew.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <Sentence label="Notice">
      {reading.place === 'over' ? 'over the page' : 'beside the page'}
      {reading.late ? ', coming late' : ''}: “{shortly(reading.words)}”,{' '}
      {CHOICES.map(([choice, words], i) => (
        <span key={choice}>
          {i > 0 && '; '}
          {words} <RoleSlot {...{ choice, reading, fixed, correct }} />
        </span>
      ))}
      {reading.switches.some((s) => !s.locked) && '. '}
      {reading.switches
        .filter((s) => !s.locked)
        .map((s, i) => (
          <span key={s.words}>
            {i > 0 && ', '}“{s.words}” is for{' '}
            <Slot
              label={`Purpose of “${s.words}”`}
              words={s.purpose === null ? 'nothing known' : purposeName(site.purposes, s.purpose)}
              fixed={fixed}
              title={WHY_PURPOSE[s.by]}
              edit={{
                kind: 'choice',
                value: s.purpose ?? '',
                options: [
                  { value: '', words: 'nothing known' },
                  ...site.purposes.map((p) => ({ value: p.code, words: p.name })),
                ],
                set: (v) =>
                  void correct(
                    { switches: { [s.words]: v || null } },
                    { switches: { [s.words]: s.purpose } },
                  ),
              }}
            />
          </span>
        ))}
      .{' '}
      <span className={css['dim']}>
        {countWords(reading.tried.length, 'way')} tried {whenWords(reading.readAt)}.{' '}
      </span>
      {!fixed && (
        <button type="button" className={css['linkButton']} onClick={() => void anew()}>
          Read it anew
        </button>
      )}
    </Sentence>
  );
}

const WHY_PURPOSE = {
  words: 'By what is written on it.',
  trial: 'By what runs with it alone on.',
  person: 'Somebody said so.',
} as const;

function RoleSlot({
  choice,
  reading,
  fixed,
  correct,
}: {
  readonly choice: Choice;
  readonly reading: NoticeReading;
  readonly fixed: boolean;
  readonly correct: (c: NoticeCorrection, before: NoticeCorrection | undefined) => Promise<void>;
}) {
  const role = reading.roles[choice];
  const at = role ? reading.tried.findIndex((t) => sameWay(t.way, role.way)) : -1;
  const options = reading.tried.flatMap((t, i) =>
    choice === 'choose' && !t.way.some((a) => a.act === 'set')
      ? []
      : [
          {
            value: String(i),
            words: wayWords(t.way),
            detail:
              t.ran === null ? OUTCOME_WORDS[t.outcome] : `${countWords(t.ran, 'tracker')} ran after it`,
          },
        ],
  );
  const wordsOf = (way: NoticeWay) => wayWords(way, choice === 'choose' ? 'the switches' : undefined);
  const words = role ? wordsOf(role.way) : 'nothing on it';
  if (options.length === 0) return <b title={role?.why}>{words}</b>;
  return (
    <>
      <Slot
        label={`How a visitor comes to ${choice}`}
        words={words}
        fixed={fixed}
        title={role ? `${role.why}.` : undefined}
        edit={{
          kind: 'choice',
          value: String(at),
          options,
          set: (v) =>
            void correct(
              { roles: { [choice]: Number(v) } },
              at < 0 ? undefined : { roles: { [choice]: at } },
            ),
        }}
      />
      {role && role.by !== 'words' && <span className={css['dim']}> ({firstPart(role.why)})</span>}
    </>
  );
}

/** What was seen, without what is compared. */
function firstPart(why: string): string {
  const [first = ''] = why.split(';');
  return first.charAt(0).toLowerCase() + first.slice(1);
}

function shortly(text: string): string {
  return text.length > 90 ? `${text.slice(0, 88).replace(/\s+\S*$/, '')} …` : text;
}
