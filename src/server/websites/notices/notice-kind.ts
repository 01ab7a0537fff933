import { z } from 'zod';
import { fairness } from '../../../core/websites/notice/fairness.ts';
import { NoticeContent, noticeVocabulary } from '../../../core/websites/notice/notice.ts';
import { notFound } from '../../../core/refusal.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { showSiteOnToday } from '../sites/site-today.ts';
import { listPurposes } from './purposes.ts';

/** The notice of a site, by the number of the site. */
export const NOTICE: RuleKind<NoticeContent> = {
  object: 'notice',
  content: NoticeContent,
  name: async (store, siteId) => {
    const site = await store.one(z.object({ host: z.string() }), 'SELECT host FROM site WHERE id = ?', [
      siteId,
    ]);
    if (!site) throw notFound('site');
    return site.host;
  },
  vocabulary: async (store) => noticeVocabulary(await listPurposes(store)),
  blocks: async (store, _key, content) =>
    fairness(content, await listPurposes(store))
      .filter((f) => f.blocks && !f.met)
      .map((b) => ({ field: 'notice', message: b.words })),
  moved: (tx, siteId) => showSiteOnToday(tx, Number(siteId)),
};
