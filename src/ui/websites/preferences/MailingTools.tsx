import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as toolsApi from '../../../pages/api/websites/preferences/tools/index.ts';
import {
  TOOL_FORMAT_WORDS,
  TOOL_FORMATS,
  type ToolFormat,
} from '../../../core/websites/preferences/preference-message.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedTool } from '../../../server/websites/preferences/tools.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../websites.module.css';
import { PREFERENCES_API } from './use-preferences.ts';

const TOOLS = `${PREFERENCES_API}/tools`;

/** What is told of every choice, and whether it arrived. */
export function MailingTools() {
  const mayConnect = useMay('preferences.connect');
  const [adding, setAdding] = useState(false);
  const [secret, setSecret] = useState('');
  const tools = useQuery({
    queryKey: ['mailing-tools'],
    queryFn: () => request<AnswerOf<typeof toolsApi.GET>>('GET', TOOLS),
    // What became of messages is no change on record.
    refetchInterval: 5000,
  });
  if (tools.isError && !tools.data)
    return <Failure error={tools.error} onRetry={() => void tools.refetch()} />;
  if (!tools.data) return <Loading what="the mailing tools" />;
  const act = async (work: () => Promise<string>) => {
    try {
      tell(await work());
    } catch (e) {
      tellFailure(e);
    } finally {
      await tools.refetch();
    }
  };
  const all = tools.data.tools;
  return (
    <>
      {mayConnect && (
        <div className={css['noticeBar']}>
          <Button kind="primary" onClick={() => setAdding(true)}>
            Connect a mailing tool
          </Button>
        </div>
      )}
      {secret !== '' && (
        <section>
          <h2 className={css['h2']}>Its secret, shown this once</h2>
          <p className={css['dim']}>
            It checks by it that what comes is from here and whole: RFC 9421, hmac-sha256.
          </p>
          <CopyText label="The secret of the mailing tool" text={secret} />
        </section>
      )}
      {all.length === 0 ? (
        <Empty title="No mailing tool is connected">
          Connect one, and it is told at once how everybody stands, then of every choice within seconds.
        </Empty>
      ) : (
        <table className={css['plain']} aria-label="Mailing tools">
          <thead>
            <tr>
              <th>Tool</th>
              <th>Told by</th>
              <th>Arrived</th>
              <th>On the way</th>
              <th>Given up</th>
              {mayConnect && <th>Acts</th>}
            </tr>
          </thead>
          <tbody>
            {all.map((t) => (
              <ToolRow key={t.id} tool={t} mayConnect={mayConnect} act={act} />
            ))}
          </tbody>
        </table>
      )}
      {adding && (
        <ConnectTool
          onClose={() => setAdding(false)}
          onDone={(s) => {
            setAdding(false);
            setSecret(s);
            void tools.refetch();
          }}
        />
      )}
    </>
  );
}

function ToolRow({
  tool: { id, name, url, format, since, people, messages },
  mayConnect,
  act,
}: {
  readonly tool: ListedTool;
  readonly mayConnect: boolean;
  readonly act: (work: () => Promise<string>) => Promise<void>;
}) {
  const again = async () => {
    const answer = await request<{ people: number }>('POST', `${TOOLS}/${id}`, {});
    return `${name} is told anew of ${countWords(answer.people, 'person', 'people')}.`;
  };
  const stop = async () => {
    await request('DELETE', `${TOOLS}/${id}`, {});
    return `Nothing goes to ${name} any more.`;
  };
  return (
    <tr>
      <td>
        <b>{name}</b>{' '}
        <span className={css['dim']}>
          {url}, since {whenWords(since)}
        </span>
      </td>
      <td>{TOOL_FORMAT_WORDS[format]}</td>
      <td>{countWords(messages.sent, 'message')}</td>
      <td>
        {people + messages.waiting === 0
          ? 'nothing'
          : [
              people > 0 && countWords(people, 'person', 'people'),
              messages.waiting > 0 && countWords(messages.waiting, 'message'),
            ]
              .filter(Boolean)
              .join(', ')}
        {messages.waiting > 0 && messages.error && (
          <span className={css['dim']}> · ○ tried again: {messages.error}</span>
        )}
      </td>
      <td>{messages.failed === 0 ? 'none' : `◆ ${numberWords(messages.failed)}: ${messages.error ?? ''}`}</td>
      {mayConnect && (
        <td>
          <Button onClick={() => void act(again)}>Tell it everything anew</Button>
          <Button kind="quiet" onClick={() => void act(stop)}>
            Disconnect
          </Button>
        </td>
      )}
    </tr>
  );
}

function ConnectTool({
  onClose,
  onDone,
}: {
  readonly onClose: () => void;
  readonly onDone: (secret: string) => void;
}) {
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [format, setFormat] = useState<ToolFormat>('json');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="Connect a mailing tool"
      onClose={onClose}
      act="Connect it"
      busy={busy}
      disabled={name.trim() === '' || url.trim() === ''}
      refused={error('name', 'url', 'format') === undefined ? refused?.message : undefined}
      onSubmit={() =>
        send(async () => {
          const body = { name: name.trim(), url: url.trim(), format };
          const made = await request<AnswerOf<typeof toolsApi.POST>>('POST', TOOLS, body);
          tell(`${body.name} is connected, and told of everybody.`);
          onDone(made.secret);
        })
      }
    >
      <Field label="Name" error={error('name')}>
        <input autoFocus value={name} onChange={(e) => setName(e.target.value)} autoComplete="off" />
      </Field>
      <Field label="Where it takes signed messages" error={error('url')}>
        <input
          value={url}
          onChange={(e) => setUrl(e.target.value)}
          placeholder="https://mailing.company.example/changes"
          autoComplete="off"
          spellCheck={false}
        />
      </Field>
      <Field label="As" error={error('format')}>
        <select value={format} onChange={(e) => setFormat(e.target.value as ToolFormat)}>
          {TOOL_FORMATS.map((f) => (
            <option key={f} value={f}>
              {TOOL_FORMAT_WORDS[f]}
            </option>
          ))}
        </select>
      </Field>
    </DialogForm>
  );
}
