import { z } from 'zod';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import type { PurposeUse } from '../../../core/websites/notice/purpose-list.ts';
import { Count, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { NOTICE_OF_SITE } from '../sites/notice-of-site.ts';
import { listPurposes } from './purposes.ts';

const MOST_RECORDS = 100_000;

const Counted = z.object({ purpose: z.string().nullable(), n: Count });

/** What points at each purpose, by its code. */
export async function purposeUses(store: Queries): Promise<Readonly<Record<string, PurposeUse>>> {
  const [trackers, known, choices, tags, notices, versions, purposes] = await Promise.all([
    store.all(Counted, 'SELECT purpose, COUNT(*) AS n FROM tracker GROUP BY purpose'),
    store.all(Counted, 'SELECT purpose, COUNT(*) AS n FROM known_tracker GROUP BY purpose'),
    // However many are on record, the newest tell how much a purpose is in use.
    store.all(
      z.object({ asked: z.string(), n: Count }),
      'SELECT asked, COUNT(*) AS n FROM (SELECT asked FROM consent_record ORDER BY at DESC LIMIT ?) newest GROUP BY asked',
      [MOST_RECORDS],
    ),
    store.all(
      Counted,
      "SELECT JSON_VALUE(content, '$.needs') AS purpose, COUNT(*) AS n FROM tag GROUP BY purpose",
    ),
    store.all(
      z.object({ host: z.string(), purposes: JsonColumn(z.array(z.string())) }),
      `SELECT s.host, JSON_EXTRACT(n.content, '$.purposes') AS purposes FROM site s JOIN ${NOTICE_OF_SITE('s')} ORDER BY s.host`,
    ),
    store.all(
      z.object({ purposes: JsonColumn(z.array(z.string())), n: Count }),
      "SELECT JSON_EXTRACT(content, '$.purposes') AS purposes, COUNT(*) AS n FROM rule_version WHERE kind = 'notice' GROUP BY 1",
    ),
    listPurposes(store),
  ]);
  const of = (rows: readonly z.infer<typeof Counted>[], code: string) =>
    rows.find((r) => r.purpose === code)?.n ?? 0;
  return Object.fromEntries(
    purposes.map(({ code }) => [
      code,
      {
        trackers: of(trackers, code),
        known: of(known, code),
        tags: of(tags, code),
        versions: versions.filter((v) => asks(v, code)).reduce((sum, v) => sum + v.n, 0),
        notices: notices.filter((n) => asks(n, code)).map((n) => n.host),
        records: choices
          .filter((c) => c.asked.split(/[ ,]+/).includes(code))
          .reduce((sum, c) => sum + c.n, 0),
      },
    ]),
  );
}

function asks({ purposes }: Pick<NoticeContent, 'purposes'>, code: string): boolean {
  return purposes.includes(code);
}
