import { z } from 'zod';
import type { Action } from '../../core/accounts/action.ts';
import { may, type Account } from '../../core/accounts/authority.ts';
import { inTodayOrder, todayWeight, type TodayWeight } from '../../core/desk/today-order.ts';
import { keepToWithin } from '../accounts/scope-condition.ts';
import type { Context } from '../context.ts';
import { Instant, JsonColumn } from '../store/columns.ts';
import { Where } from '../store/where.ts';
import { allowedTo, SaidRow, type TodayAct, type TodayItem } from './today.ts';

/** What one has oneself, what somebody else has, and what was put off. */
export type TodayPart = 'mine' | 'team' | 'put off';

/** Something on Today as one person sees it. */
export interface ListedItem extends TodayItem, TodayWeight {
  readonly part: TodayPart;
  /** Who has it, where it is one person’s. */
  readonly with: { readonly id: number; readonly name: string } | null;
  /** Who handed it on, with what they said. */
  readonly handedBy: { readonly name: string; readonly words: string; readonly mine: boolean } | null;
  /** ISO 8601. */
  readonly putOffUntil: string | null;
  /** It can be handed on: it is nobody’s by itself. */
  readonly mayHandOn: boolean;
  readonly act: Omit<TodayAct, 'needs'> | null;
}

const MOST = 500;

const Row = SaidRow.extend({
  act: JsonColumn(z.custom<TodayAct>((v) => v !== null && typeof v === 'object').nullable()),
  assigned_to: z.number().nullable(),
  assigned_name: z.string().nullable(),
  to_account: z.number().nullable(),
  to_name: z.string().nullable(),
  by_account: z.number().nullable(),
  by_name: z.string().nullable(),
  handed_words: z.string().nullable(),
  until: Instant.nullable(),
});

/** All that an account may know of, each in its part, what is most worth doing first. */
export async function listToday(ctx: Context, account: Account): Promise<readonly ListedItem[]> {
  const now = ctx.now();
  const rows = await ctx.store.all(
    Row,
    `SELECT i.kind, i.item_key AS \`key\`, i.words, i.detail, i.link, i.since, i.due, i.dismissable, i.act,
       i.assigned_to, own.name AS assigned_name, h.to_account, taker.name AS to_name, h.by_account, giver.name AS by_name,
       h.words AS handed_words, IF(p.steady = i.steady, p.until, NULL) AS until
     FROM today_item i
     LEFT JOIN account own ON own.id = i.assigned_to
     LEFT JOIN today_handed h ON h.kind = i.kind AND h.item_key = i.item_key AND i.assigned_to IS NULL
     LEFT JOIN account taker ON taker.id = h.to_account
     LEFT JOIN account giver ON giver.id = h.by_account
     LEFT JOIN today_put_off p ON p.kind = i.kind AND p.item_key = i.item_key AND p.account_id = ?
     WHERE ${seenBy(account).sql} ORDER BY i.place + IF(i.due IS NULL, 30, 0), i.due IS NULL, i.due LIMIT ${MOST}`,
    [account.id, ...seenBy(account).params],
  );
  const listed = rows.map((r): ListedItem => {
    const has = r.assigned_to ?? r.to_account;
    const isOthers = has !== null && has !== account.id;
    const isPutOff = r.until !== null && Date.parse(r.until) > now.getTime();
    const { kind, key, words, detail, link, since, due, dismissable } = r;
    return {
      ...{ kind, key, words, detail, link, since, due, dismissable, ...todayWeight(r, now) },
      part: isOthers ? 'team' : isPutOff ? 'put off' : 'mine',
      with: has === null ? null : { id: has, name: r.assigned_name ?? r.to_name ?? 'somebody who left' },
      handedBy:
        r.by_account === null
          ? null
          : {
              name: r.by_name ?? 'somebody who left',
              words: r.handed_words ?? '',
              mine: r.by_account === account.id,
            },
      putOffUntil: isPutOff ? r.until : null,
      mayHandOn: r.assigned_to === null,
      act:
        r.act && may(account, r.act.needs)
          ? { words: r.act.words, done: r.act.done, path: r.act.path, body: r.act.body }
          : null,
    };
  });
  return inTodayOrder(listed, now);
}

/** What is for nobody in particular or for the account; and what others have, where one may know. */
function seenBy(account: Account): Where {
  const where = new Where().among('i.action', allowedTo(account));
  if (!may(account, 'today.team' satisfies Action))
    where.andAny(['i.assigned_to IS NULL'], ['i.assigned_to = ?', account.id]);
  return keepToWithin(where, account);
}
