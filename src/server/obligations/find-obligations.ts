import type { Context } from '../context.ts';
import type { Found } from '../desk/found.ts';
import { listAssessments } from './assessments/assessment-view.ts';
import { listFrameworks } from './library/library-view.ts';

const MOST = 5;

/** Assessments and frameworks by a part of their name. */
export async function findObligations(ctx: Context, text: string): Promise<readonly Found[]> {
  const wanted = text.toLowerCase();
  const holds = (...words: readonly string[]) => words.some((w) => w.toLowerCase().includes(wanted));
  const assessments = (await listAssessments(ctx)).filter((a) => holds(a.name, a.cycle));
  const frameworks = (await listFrameworks(ctx)).filter((f) => holds(f.name, f.title));
  return [
    ...assessments.map((a) => ({
      ...{ kind: 'assessment', words: a.name, detail: a.cycle, link: `/obligations/assessments/${a.id}` },
    })),
    ...frameworks.map((f) => ({
      ...{ kind: 'framework', words: f.name, detail: f.title, link: `/obligations/library/${f.id}` },
    })),
  ].slice(0, MOST);
}
