import { z } from 'zod';
import { Links, type LinkedFacts } from '../../../core/cases/linked/linked.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const Row = z.object({ id: z.number(), name: z.string(), links: JsonColumn(Links) });
const Machine = Row.extend({
  decides: z.string(),
  assessments: JsonColumn(z.array(z.string())),
});

/**
 * Vendors and AI systems that work on an activity, a system or a site of an assessment, and AI systems that name it. Vendors
 * that were left and AI systems that were retired do not.
 */
export async function linkedOthers(
  store: Queries,
  links: Links,
  assessment: number,
): Promise<Pick<LinkedFacts, 'vendors' | 'machines'>> {
  const [vendors, machines] = await Promise.all([
    store.all(
      Row,
      "SELECT id, name, JSON_QUERY(content, '$.links') AS links FROM vendor WHERE state <> 'left' ORDER BY name LIMIT 5000",
    ),
    store.all(
      Machine,
      `SELECT id, name, JSON_QUERY(content, '$.links') AS links, JSON_VALUE(content, '$.decides') AS decides, JSON_QUERY(content, '$.assessments') AS assessments
       FROM ai_system WHERE state <> 'retired' ORDER BY name LIMIT 5000`,
    ),
  ]);
  const shares = (other: Links) =>
    (['activities', 'systems', 'sites'] as const).some((k) => other[k].some((id) => links[k].includes(id)));
  return {
    vendors: vendors.filter((v) => shares(v.links)).map((v) => ({ id: String(v.id), name: v.name })),
    machines: machines
      .filter((m) => shares(m.links) || m.assessments.includes(String(assessment)))
      .map((m) => ({ id: String(m.id), name: m.name, decides: m.decides === 'decides' })),
  };
}
