import { purposeName, type Purpose } from '../../../core/websites/notice/purpose.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import { inventoryBlocks } from '../../../core/websites/statements/statement.ts';
import { statementHtml } from '../../../core/websites/statements/statement-formats.ts';
import type { Queries } from '../../store/pool.ts';
import { inventoryOf } from '../trackers/inventory.ts';
import { publishedStatement } from './statements.ts';

/** The newest statement of a site as a page. Throws a RefusedError (404). */
export async function statementPage(store: Queries, siteId: number, language: string): Promise<string> {
  const said = await publishedStatement(store, siteId, language);
  return page(statementHtml(said.blocks, said.language), said.language);
}

/** What the newest sweep found of a site, by purpose, as a page. */
export async function inventoryPage(
  store: Queries,
  served: {
    readonly siteId: number;
    readonly purposes: readonly Purpose[];
    readonly notice: { readonly content: NoticeContent } | undefined;
  },
  language: string,
): Promise<string> {
  const content = served.notice?.content;
  const spoken = content?.languages.includes(language) ? language : (content?.languages[0] ?? 'en');
  const { lines, swept } = await inventoryOf(store, served.siteId, spoken);
  const purposes = served.purposes.map((p) => ({
    code: p.code,
    name: content?.texts[spoken]?.purposes[p.code]?.name ?? purposeName(served.purposes, p.code),
    text: content?.texts[spoken]?.purposes[p.code]?.text ?? '',
  }));
  return page(statementHtml(inventoryBlocks(purposes, lines, spoken, swept), spoken), spoken);
}

function page(body: string, language: string): string {
  return `<!doctype html><html lang="${language}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Privacy</title><style>body{font:16px/1.5 system-ui,sans-serif;margin:1rem auto;max-width:60rem;padding:0 1rem}table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:4px 8px 4px 0;border-bottom:1px solid #ccc;overflow-wrap:anywhere;vertical-align:top}</style></head><body>${body}</body></html>`;
}
