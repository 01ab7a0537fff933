import { FORM_LANGUAGES } from '../../../core/cases/requests/form/form-phrases.ts';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { guessKind } from '../../../core/cases/requests/form/guess-kind.ts';
import { lawOf, REQUEST_LAWS } from '../../../core/cases/requests/law/laws.ts';
import {
  FOR_WHOM,
  KIND_WORDS,
  REQUEST_KINDS,
  WHOM_WORDS,
  type ForWhom,
  type RequestKind,
} from '../../../core/cases/requests/request.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { requestLink } from '../links.ts';
import { regionWords } from './RequestRegister.tsx';
import { NO_TEXT, SubjectFields, subjectOf } from './SubjectFields.tsx';
import { useRequestCounts } from './use-requests.ts';
import css from '../cases.module.css';

const REGIONS = [...new Set(REQUEST_LAWS.flatMap((l) => l.where))]
  .map((code) => ({ code, words: regionWords(code) }))
  .toSorted((a, b) => a.words.localeCompare(b.words));
const named = new Intl.DisplayNames('en', { type: 'language' });

/** Takes a request in by hand, or out of a letter. */
export function NewRequestDialog() {
  const mailId = useDeskLocation().query.get('mail');
  const counts = useRequestCounts({});
  const mail = counts.data?.mail.find((m) => String(m.id) === mailId);
  // What is known of a letter, and where most who ask live, fills the form once it is there.
  if (!counts.data) return null;
  return <Form key={mailId ?? ''} mail={mail} country={counts.data.country} />;
}

type Mail = NonNullable<ReturnType<typeof useRequestCounts>['data']>['mail'][number];

function Form({ mail, country }: { readonly mail: Mail | undefined; readonly country: string }) {
  const client = useQueryClient();
  const [kind, setKind] = useState<RequestKind>(mail?.kind ?? guessKind(mail?.text ?? '') ?? 'access');
  const [region, setRegion] = useState(() => (REGIONS.some((r) => r.code === country) ? country : 'ZZ'));
  const [language, setLanguage] = useState('en');
  const [whom, setWhom] = useState<ForWhom>('self');
  const [asker, setAsker] = useState({ name: '', email: '' });
  const [subject, setSubject] = useState({ ...NO_TEXT, name: mail?.name ?? '', emails: mail?.from ?? '' });
  const [words, setWords] = useState(mail?.text.slice(0, 4000) ?? '');
  const [on, setOn] = useState('');
  const { busy, refused, error, send } = useSending();
  const close = () => setQuery({ new: null, mail: null });
  const law = lawOf(region);
  return (
    <DialogForm
      title="Take in a request"
      onClose={close}
      onSubmit={() =>
        send(async () => {
          const { id } = await request<{ id: number }>('POST', '/api/cases/requests', {
            request: {
              kind,
              region,
              language,
              whom,
              words,
              subject: subjectOf(subject),
              ...(whom === 'self' ? {} : { asker }),
            },
            ...(on ? { on } : {}),
            ...(mail ? { mail: mail.id } : {}),
          });
          await client.invalidateQueries({ queryKey: ['requests'] });
          await client.invalidateQueries({ queryKey: ['request-counts'] });
          tell('Its clock runs.');
          go(requestLink(id));
        })
      }
      act="Take it in"
      busy={busy}
      refused={
        error('kind', 'request.region', 'subject.name', 'request.asker.email') ? undefined : refused?.message
      }
    >
      <div className={css['two']}>
        <Field label="It asks" error={error('kind', 'request.kind')}>
          <select autoFocus value={kind} onChange={(e) => setKind(e.target.value as RequestKind)}>
            {REQUEST_KINDS.map((k) => (
              <option key={k} value={k} disabled={!law.rights[k]}>
                {KIND_WORDS[k]}
              </option>
            ))}
          </select>
        </Field>
        <Field label="They live in" hint={`${law.name}, ${law.answerArticle}`}>
          <select value={region} onChange={(e) => setRegion(e.target.value)}>
            {REGIONS.map((r) => (
              <option key={r.code} value={r.code}>
                {r.words}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Write to them in">
          <select value={language} onChange={(e) => setLanguage(e.target.value)}>
            {FORM_LANGUAGES.map((l) => (
              <option key={l} value={l}>
                {named.of(l)}
              </option>
            ))}
          </select>
        </Field>
        <Field label="They ask">
          <select value={whom} onChange={(e) => setWhom(e.target.value as ForWhom)}>
            {FOR_WHOM.map((w) => (
              <option key={w} value={w}>
                {WHOM_WORDS[w]}
              </option>
            ))}
          </select>
        </Field>
        {!mail && (
          <Field label="It came in on" hint="Today where nothing is said">
            <input type="date" value={on} onChange={(e) => setOn(e.target.value)} />
          </Field>
        )}
      </div>
      {whom !== 'self' && (
        <div className={css['two']}>
          <Field label="Who asks" error={error('request.asker.name')}>
            <input
              value={asker.name}
              maxLength={200}
              onChange={(e) => setAsker({ ...asker, name: e.target.value })}
            />
          </Field>
          <Field label="Their e-mail" error={error('request.asker.email')}>
            <input
              value={asker.email}
              maxLength={254}
              onChange={(e) => setAsker({ ...asker, email: e.target.value })}
            />
          </Field>
        </div>
      )}
      <SubjectFields value={subject} onChange={setSubject} error={error} />
      <Field label="In their own words">
        <textarea rows={3} maxLength={4000} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
