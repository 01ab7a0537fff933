import { toldTable } from '../../../core/websites/preferences/preference-message.ts';
import type { Context } from '../../context.ts';
import { csvLine } from '../../http/csv.ts';
import type { WishInput } from '../../lists/list-source.ts';
import { askedPage } from './page-kind.ts';
import { listPeople } from './people.ts';
import { toldPeople } from './tools.ts';

/** Lines of CSV: those of a list as mailing tools are told of them. */
export async function* peopleTable(ctx: Context, wish: WishInput): AsyncGenerator<string> {
  const topics = (await askedPage(ctx.store))?.content.topics ?? [];
  let after: string | undefined;
  let isFirst = true;
  do {
    const page = await listPeople(ctx.store, wish, after, 500);
    const told = await toldPeople(
      ctx.store,
      ctx,
      page.rows.map((r) => r.id),
    );
    const [head, ...rest] = toldTable(told, topics).map(csvLine);
    if (isFirst) yield head ?? '';
    yield rest.join('');
    isFirst = false;
    after = page.next ?? undefined;
  } while (after !== undefined);
}
