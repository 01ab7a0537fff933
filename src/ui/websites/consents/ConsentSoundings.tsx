import { useQuery } from '@tanstack/react-query';
import type * as websitesHostConsentsIdApi from '../../../pages/api/websites/[host]/consents/[id].ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { X } from 'lucide-react';
import { verifyEntry } from '../../../core/evidence/ledger.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { regimeOf } from '../../../core/websites/notice/regime.ts';
import { readTc } from '../../../core/websites/tcf/tc-string.ts';
import { plainRich } from '../../../core/text/rich-text.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { useState } from 'react';
import { LAYOUT_WORDS } from '../../../core/websites/notice/notice.ts';
import { useMay } from '../../desk/account-context.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { GroundList, type Ground } from '../../parts/Explanation.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useRegimes } from '../regimes/use-regimes.ts';
import { useSite } from '../sites/SiteSheet.tsx';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

/** One choice: its receipt, and its place in the ledger, checked here in the browser. */
export function ConsentSoundings({ host, id }: { readonly host: string; readonly id: string }) {
  const site = useSite(host);
  const regimes = useRegimes().data;
  const mayErase = useMay('consent.erase');
  const opened = useQuery({
    queryKey: ['consent', id],
    queryFn: () =>
      request<AnswerOf<typeof websitesHostConsentsIdApi.GET>>('GET', `/api${siteLink(host)}/consents/${id}`),
  });
  if (opened.isError) return <Failure error={opened.error} onRetry={() => void opened.refetch()} />;
  if (!opened.data) return <Loading what="the record" />;
  const { receipt, record, proof, digest, matches, notice, choices, fields } = opened.data;
  const text = notice.texts[receipt.language] ?? Object.values(notice.texts)[0];
  const name = (p: string) => purposeName(site.data?.purposes ?? [], p);
  const verified = proof ? verifyEntry(proof) : false;
  const { regime, law } = regimeOf(receipt.region, regimes);
  const grounds: Ground[] = proof
    ? [
        {
          mark: matches ? '✓' : '◆',
          words: matches
            ? 'The ledger holds this receipt’s digest'
            : 'The ledger holds another digest: the record was changed',
        },
        {
          mark: verified ? '✓' : '◆',
          words: verified
            ? `It is entry ${proof.index + 1} of ${numberWords(proof.tree.size)} in tree ${proof.tree.number}`
            : 'Its path does not lead to the sealed root',
        },
        { mark: '✓', words: `Sealed ${whenWords(proof.tree.sealedAt)}` },
      ]
    : [{ mark: '○', words: 'Waiting to be sealed, which happens every few seconds' }];
  return (
    <article>
      <SoundingsSection title="Receipt">
        <div className={css['opened']}>
          <h3 className={css['openedName']}>{receipt.choice}</h3>
          <button
            type="button"
            aria-label="Close the record"
            className={css['close']}
            onClick={() => setQuery({ record: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        <dl className={css['receipt']}>
          <Line name="Number" value={<code>{receipt.id}</code>} />
          <Line name="Time" value={`${whenWords(receipt.at)} (${receipt.at})`} />
          <Line name="Site" value={receipt.site} />
          <Line
            name="Notice"
            value={`version ${receipt.notice}, in ${new Intl.DisplayNames(['en'], { type: 'language' }).of(receipt.language) ?? receipt.language}`}
          />
          <Line name="Asked" value={receipt.asked.map(name).join(', ')} />
          <Line name="Allowed" value={receipt.allowed.map(name).join(', ') || 'nothing'} />
          <Line name="Act" value={receipt.act} />
          <Line name="Region" value={`${regionName(receipt.region)}: ${regime}. ${law}`} />
          <Line name="Address" value={<code>{record.address || 'none'}</code>} />
          <Line name="Visitor key" value={<code>{record.visitorKey}</code>} />
        </dl>
        <p className={css['dim']}>The address was cut to /24 (IPv4) or /48 (IPv6) before it was kept.</p>
      </SoundingsSection>
      {receipt.tc !== undefined && <ToldTags tc={receipt.tc} />}
      <SoundingsSection title="What was shown">
        {text && (
          <blockquote lang={receipt.language} className={css['shown']}>
            <b>{text.title}</b>
            <p>{plainRich(text.body)}</p>
            <p>
              [{text.refuse}] [{text.accept}]
            </p>
            <ul>
              {receipt.asked.map((p) => (
                <li key={p}>
                  {receipt.allowed.includes(p) ? '✓' : '✕'} {text.purposes[p]?.name ?? p}:{' '}
                  {text.purposes[p]?.text}
                </li>
              ))}
            </ul>
          </blockquote>
        )}
        <p className={css['dim']}>
          Version {receipt.notice}, {LAYOUT_WORDS[notice.layout]}.
        </p>
      </SoundingsSection>
      <SoundingsSection title="Choices of this visitor">
        <ul className={css['changes']}>
          {choices.map((c) => (
            <li key={c.id}>
              <a
                href={`${siteLink(host)}?tab=consents&record=${c.id}`}
                aria-current={c.id === id || undefined}
              >
                {whenWords(c.at)}
              </a>
              : {c.allowed.map(name).join(', ') || 'nothing'} ({c.act}, notice {c.version})
            </li>
          ))}
        </ul>
        {mayErase && <EraseVisitor host={host} visitorKey={record.visitorKey} count={choices.length} />}
      </SoundingsSection>
      <SoundingsSection title="Its place in the ledger">
        <GroundList grounds={grounds} />
        <dl className={css['receipt']}>
          <Line
            name="Entry"
            value={
              <a href={`/evidence/ledger?entry=${record.ledgerId}`}>{numberWords(Number(record.ledgerId))}</a>
            }
          />
          <Line name="Digest" value={<code>{digest}</code>} />
          {proof && <Line name="Head" value={<code>{proof.tree.head}</code>} />}
        </dl>
        <p>
          <a
            href={`data:application/json,${encodeURIComponent(JSON.stringify({ receipt, fields, digest, proof: proof ?? null }, null, 2))}`}
            download={`receipt-${receipt.id}.json`}
          >
            Export the receipt with its proof
          </a>
        </p>
      </SoundingsSection>
    </article>
  );
}

/** What tags of the framework were told, as the standard’s library reads it. */
function ToldTags({ tc }: { readonly tc: string }) {
  const read = readTc(tc);
  if (!read) return null;
  return (
    <SoundingsSection title="What the framework’s tags are told">
      <dl className={css['receipt']}>
        <Line name="Purposes" value={read.purposes.join(', ') || 'none'} />
        <Line name="By interest" value={read.interests.join(', ') || 'none'} />
        <Line name="Features" value={read.specialFeatures.join(', ') || 'none'} />
        <Line name="Vendors" value={read.vendors.join(', ') || 'none'} />
        <Line name="With an interest" value={read.vendorInterests.join(', ') || 'none'} />
        <Line name="List" value={`version ${read.listVersion}, ${read.day}`} />
        <Line name="TC string" value={<code>{tc}</code>} />
      </dl>
    </SoundingsSection>
  );
}

/** Takes out what is on record of a visitor who asked for it. */
function EraseVisitor({
  host,
  visitorKey,
  count,
}: {
  readonly host: string;
  readonly visitorKey: string;
  readonly count: number;
}) {
  const [open, setOpen] = useState(false);
  const [because, setBecause] = useState('');
  const { busy, refused, error, send } = useSending();
  if (!open) return <Button onClick={() => setOpen(true)}>Erase on request</Button>;
  return (
    <DialogForm
      title={`Erase ${countWords(count, 'choice')} of this visitor`}
      onClose={() => setOpen(false)}
      act="Erase them"
      busy={busy}
      disabled={because.trim() === ''}
      onSubmit={() =>
        send(async () => {
          const body = { visitorKey, because: because.trim() };
          await request('POST', `/api${siteLink(host)}/consents/erase`, body);
          tell('Erased. The ledger keeps the digests, and says that they were erased, and why.');
          setQuery({ record: null });
        })
      }
    >
      <Field
        label="Who asked, and where?"
        hint="It cannot be undone. The digests stay in the ledger; with the records gone they tell nothing of the visitor. What you write stays there, too: give the case or the letter, and no name."
        error={error('because', 'visitorKey') ?? refused?.message}
      >
        <textarea autoFocus rows={2} value={because} onChange={(e) => setBecause(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function Line({ name, value }: { readonly name: string; readonly value: React.ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
