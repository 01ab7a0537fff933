import { z } from 'zod';
import { endpoint } from '../../../../../../server/http/endpoint.ts';
import { whole } from '../../../../../../server/http/whole.ts';
import { askedPage } from '../../../../../../server/websites/preferences/page-kind.ts';
import { may } from '../../../../../../core/accounts/authority.ts';
import { erasePerson } from '../../../../../../server/websites/preferences/people.ts';
import { findPerson } from '../../../../../../server/websites/preferences/preference-person.ts';
import { personLinks } from '../../../../../../server/websites/preferences/person-link.ts';
import { recordLeaving } from '../../../../../../server/websites/preferences/preference-intake.ts';
import { preferencesOf } from '../../../../../../server/websites/preferences/preference-record.ts';

const Person = z.object({ id: z.coerce.number().int().positive() });

export const GET = endpoint({
  action: 'preferences.read',
  input: Person,
  object: whole('person', ['site']),
  run: async ({ ctx, account, input: { id } }) => ({
    person: await findPerson(ctx.store, id),
    records: await preferencesOf(ctx.store, id),
    page: await askedPage(ctx.store),
    // Who has it can choose for them.
    link: may(account, 'preferences.edit') ? personLinks(ctx, id).page : null,
  }),
});

/** Writes down that somebody wants nothing more. */
export const POST = endpoint({
  action: 'preferences.say',
  input: Person.extend({
    reason: z.string().max(40).default(''),
    words: z.string().trim().min(3, 'Say how they told you').max(500, 'At most 500 characters'),
  }),
  object: whole('person', ['site']),
  run: ({ ctx, account, input: { id, reason, words } }) =>
    recordLeaving(ctx, { person: id, reason, words, by: 'account', actor: account.id }),
});

export const DELETE = endpoint({
  action: 'consent.erase',
  input: Person.extend({
    because: z.string().trim().min(3, 'Say who asked, and where').max(300, 'At most 300 characters'),
  }),
  object: whole('person', ['site']),
  run: ({ ctx, account, input }) => erasePerson(ctx, account.id, input.id, input.because),
});
