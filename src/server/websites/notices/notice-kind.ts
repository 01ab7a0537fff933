import { z } from 'zod';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import { LOOKS_AT_FIRST, NoticeContent } from '../../../core/websites/notice/notice.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { noticeSentence, noticeVocabulary } from '../../../core/websites/notice/notice-sentence.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Queries } from '../../store/pool.ts';
import type { Key, RuleKind } from '../../rules/rule-kind.ts';
import { NOTICE_OF_SITE } from '../sites/notice-of-site.ts';
import { sitePlace } from '../sites/site-place.ts';
import { showSiteOnToday } from '../sites/site-today.ts';
import { tcfFaults } from '../../../core/websites/tcf/tcf-settings.ts';
import { listPurposes } from './purposes.ts';
import { readRegimes } from './regimes.ts';
import { readVendorList } from './vendor-lists.ts';

/** The notice of a site, by the number of the site. */
export const NOTICE: RuleKind<NoticeContent> = {
  object: 'notice',
  content: NoticeContent,
  // Of the time when all were strips in one kind of letters.
  upgrades: [
    (content) => ({ ...LOOKS_AT_FIRST, languageBy: 'page', layout: 'strip', ...(content as object) }),
    // Of the time before the framework.
    (content) => ({ tcf: null, ...(content as object) }),
  ],
  name: hostOf,
  place: async (store, siteId) => sitePlace(await hostOf(store, siteId), '?tab=notice'),
  within: (_store, siteId) => [{ kind: 'site', id: String(siteId) }],
  text: async (store, siteId, content) =>
    sentenceText(
      noticeSentence(await hostOf(store, siteId), await listPurposes(store), content.languages),
      content,
    ),
  vocabulary: async (store) => noticeVocabulary(await listPurposes(store)),
  blocks: async (store, _key, content) => [
    ...fairness(content, await listPurposes(store))
      .filter((f) => f.blocks && !f.met)
      .map((b) => ({ field: 'notice', message: b.words })),
    ...(content.tcf
      ? tcfFaults(content.tcf, content.purposes, await readVendorList(store), await readRegimes(store))
      : []),
  ],
  moved: async (tx, siteId) => {
    await endPastTrial(tx, Number(siteId));
    await showSiteOnToday(tx, Number(siteId));
  },
};

/** A trial is of the version rehearsed against the one in force, and is over with either. */
async function endPastTrial(tx: Queries, siteId: number): Promise<void> {
  await tx.run(
    `DELETE t FROM notice_trial t JOIN site s ON s.id = t.site_id JOIN ${NOTICE_OF_SITE('s')}
     WHERE t.site_id = ? AND NOT (JSON_VALUE(n.stage, '$.state') = 'rehearsing'
       AND JSON_VALUE(n.stage, '$.version') = t.version AND COALESCE(JSON_VALUE(n.stage, '$.over.version'), 0) = t.against)`,
    [siteId],
  );
}

async function hostOf(store: Queries, siteId: Key): Promise<string> {
  const site = await store.one(z.object({ host: z.string() }), 'SELECT host FROM site WHERE id = ?', [
    siteId,
  ]);
  if (!site) throw notFound('site');
  return site.host;
}
