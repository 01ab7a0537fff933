import { z } from 'zod';
import { QuestionnaireContent } from '../../../core/cases/vendors/questionnaire.ts';
import { SHIPPED_QUESTIONNAIRE } from '../../../core/cases/vendors/shipped-questionnaire.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<QuestionnaireContent> = {
  ...{ table: 'questionnaire', object: 'questionnaire', content: QuestionnaireContent },
};

/** Questionnaires of the organisation’s own. */
export const QUESTIONNAIRE: PlainKind<QuestionnaireContent> = {
  ...{ object: 'questionnaire', content: QuestionnaireContent },
  vocabulary: () =>
    Promise.resolve({
      path: ([first]) => (first === 'name' ? 'The name' : 'The questions'),
      value: () => undefined,
    }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

/** Begun with what is shipped. Throws a RefusedError (409) for a name that is taken. */
export function addQuestionnaire(tx: Queries, now: Date, by: number, name: string): Promise<number> {
  return addNamed(tx, TABLE, now, by, { ...SHIPPED_QUESTIONNAIRE, name });
}

/** Those there are, the shipped one first, as 0. */
export async function listQuestionnaires(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string; readonly questions: number }[]> {
  const own = await store.all(
    z.object({ id: z.number(), name: z.string(), questions: z.number() }),
    "SELECT id, name, JSON_LENGTH(content, '$.questions') AS questions FROM questionnaire ORDER BY name LIMIT 200",
  );
  return [
    { id: 0, name: SHIPPED_QUESTIONNAIRE.name, questions: SHIPPED_QUESTIONNAIRE.questions.length },
    ...own,
  ];
}

/** Throws a RefusedError (404). */
export async function readQuestionnaire(store: Queries, id: number): Promise<QuestionnaireContent> {
  return id === 0 ? SHIPPED_QUESTIONNAIRE : readNamed(store, TABLE, id);
}
