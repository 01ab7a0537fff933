import { useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import type * as vendorListApi from '../../../pages/api/websites/vendor-list.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import { tcfSentence } from '../../../core/websites/tcf/tcf-sentence.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { request, RequestError } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { useRegimes } from '../regimes/use-regimes.ts';
import css from '../websites.module.css';

interface FrameworkPartProps {
  readonly content: NoticeContent;
  readonly site: SiteDetail;
  readonly set: (content: NoticeContent) => void;
  readonly fixed: boolean;
  readonly error: (path: readonly string[]) => string | undefined;
}

/** Whether and how the notice takes part in the Transparency and Consent Framework. */
export function FrameworkPart({ content, site, set, fixed, error }: FrameworkPartProps) {
  const list = useQuery({
    queryKey: ['vendor-list'],
    queryFn: () => request<AnswerOf<typeof vendorListApi.GET>>('GET', '/api/websites/vendor-list'),
  });
  const regimes = useRegimes().data;
  if (!list.data || !regimes) return null;
  const { vendors, purposes, version, lastUpdated, takenAt } = list.data;
  return (
    <section>
      <RuleSentence
        sentence={tcfSentence(content, { vendors, purposes, own: site.purposes, regimes })}
        content={content}
        set={set}
        fixed={fixed}
        error={error}
      />
      {content.tcf && (
        <p className={css['dim']}>
          {takenAt === null
            ? `The list that ships: ${countWords(vendors.length, 'vendor')}, all made up. Take in the published one before visitors are asked by it.`
            : `Vendor list ${version} of ${lastUpdated.slice(0, 10)}, ${countWords(vendors.length, 'vendor')}, taken in ${whenWords(takenAt)}.`}{' '}
          {!fixed && <TakeList />}
        </p>
      )}
    </section>
  );
}

function TakeList() {
  const input = useRef<HTMLInputElement>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    try {
      const taken = await request<AnswerOf<typeof vendorListApi.POST>>('POST', '/api/websites/vendor-list', {
        upload: await sendFile(file),
      });
      tell(`Vendor list ${taken.version} holds now, with ${countWords(taken.vendors, 'vendor')}.`);
    } catch (e) {
      if (e instanceof RequestError && e.refusal.fields.length > 0)
        tell(`${e.message} ${e.refusal.fields.map((f) => `${f.field}: ${f.message}`).join(' ')}`, {
          kind: 'trouble',
        });
      else tellFailure(e);
    }
  };
  return (
    <>
      <Button onClick={() => input.current?.click()}>Take in a vendor list</Button>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        aria-label="File of the vendor list"
        hidden
        onChange={(e) => {
          void take(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
    </>
  );
}
