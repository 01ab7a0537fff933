import { countFigure, daysBefore, type Each } from '../figures/count-figure.ts';
import type { Figure } from '../figures/figure.ts';
import { toDatetime } from '../store/columns.ts';
import { REQUEST_FIGURES } from './requests/figures.ts';

const QUARTER_DAYS = 91;
const KNOWN = 'SELECT COUNT(*) AS n FROM incident i WHERE i.known_at >= ?';
const OPEN = 'SELECT COUNT(*) AS n FROM incident i WHERE i.closed_at IS NULL';
const MEASURES = 'SELECT COUNT(*) AS n FROM incident_measure m WHERE m.done_at IS NULL';

const EACH_INCIDENT: Each = {
  key: 'i.id',
  name: "CONCAT('Incident ', i.id, ', ', i.kind)",
  parts: { kind: 'i.kind' },
  link: ({ key }) => `/cases/incidents/${key}`,
};

const eachOf = (place: string): Each => ({
  key: 'd.id',
  name: 'd.name',
  parts: { kind: 'd.state' },
  link: ({ key }) => `/cases/${place}/${key}`,
});

const seen = { see: 'cases.read', good: 'less' } as const;

const INCIDENT_FIGURES: readonly Figure[] = [
  countFigure({
    ...seen,
    ...{ id: 'cases.incidents.known', name: 'Incidents that became known', unit: 'incident' },
    sampledDays: QUARTER_DAYS,
    definition: `Incidents, breaches or not, that somebody came to know of within the last ${QUARTER_DAYS} days.`,
    link: '/cases/incidents',
    counts: (now) => [KNOWN, [toDatetime(daysBefore(now, QUARTER_DAYS))]],
    each: EACH_INCIDENT,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.incidents.open', name: 'Incidents that are open', unit: 'incident' },
    definition: 'Incidents that are not closed.',
    link: '/cases/incidents',
    counts: OPEN,
    each: EACH_INCIDENT,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.incidents.late', name: 'Incidents past a deadline', unit: 'incident' },
    definition: 'Open incidents of which something that the law sets a time for was not done by then.',
    link: '/cases/incidents',
    counts: `${OPEN} AND i.is_wrong = 1`,
    of: OPEN,
    each: EACH_INCIDENT,
  }),
  countFigure({
    ...seen,
    ...{ id: 'cases.incidents.lessons-late', name: 'Lessons not done by their day', unit: 'measure' },
    definition: 'Measures that incidents led to, that are not done, and whose day is over.',
    link: '/cases/incidents',
    counts: (now) => [`${MEASURES} AND m.due_on < ?`, [now.toISOString().slice(0, 10)]],
    of: MEASURES,
    each: { key: 'm.id', name: 'm.what', link: () => '/cases/incidents' },
  }),
];

/** Of a kind of dossier: those that need a hand, of all. */
function dossiersWrong(
  table: 'impact_assessment' | 'vendor' | 'ai_system',
  place: string,
  words: Pick<Figure, 'id' | 'name' | 'definition' | 'unit'>,
): Figure {
  const all = `SELECT COUNT(*) AS n FROM ${table} d`;
  return countFigure({
    ...words,
    ...{ see: 'cases.dossiers.read', good: 'less' },
    link: `/cases/${place}`,
    counts: `${all} WHERE d.is_wrong = 1`,
    of: all,
    each: eachOf(place),
  });
}

const DOSSIER_FIGURES: readonly Figure[] = [
  dossiersWrong('impact_assessment', 'impact', {
    ...{ id: 'cases.impact.wrong', name: 'Impact assessments that need a hand', unit: 'assessment' },
    definition:
      'Assessments of impact that are missing where the law asks for one, past a day, or whose facts changed since they were approved; of all.',
  }),
  dossiersWrong('vendor', 'vendors', {
    ...{ id: 'cases.vendors.wrong', name: 'Vendors that need a hand', unit: 'vendor' },
    definition:
      'Vendors that are past the day to be looked at, lack something that their tier asks for, or are left with something open; of all.',
  }),
  dossiersWrong('ai_system', 'ai', {
    ...{ id: 'cases.ai.wrong', name: 'AI systems that need a hand', unit: 'AI system' },
    definition: 'AI systems that lack what the law asks of their class by now, or are past a day; of all.',
  }),
];

export const CASES_FIGURES: readonly Figure[] = [...REQUEST_FIGURES, ...INCIDENT_FIGURES, ...DOSSIER_FIGURES];
