import { INCIDENT_KINDS, incidentNumber } from '../../../core/cases/incidents/incident.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { incidentLink } from '../links.ts';
import { useIncidents } from './use-incidents.ts';
import css from '../cases.module.css';

/** The register of breaches: what went wrong, how grave it was, and what was decided. */
export function IncidentsSheet() {
  const incidents = useIncidents();
  if (incidents.isError && !incidents.data)
    return <Failure error={incidents.error} onRetry={() => void incidents.refetch()} />;
  if (!incidents.data) return <Loading what="the register" />;
  const open = incidents.data.filter((i) => i.closedAt === null);
  const wrong = open.filter((i) => i.isWrong).length;
  return (
    <>
      <SheetHead
        title="Incidents"
        detail={`${countWords(incidents.data.length, 'incident')} in the register (GDPR Art. 33(5))`}
        actions={
          <a href="/api/cases/incidents.csv" download>
            Export the register
          </a>
        }
      />
      <p className={css['answer']}>
        {open.length === 0 ? '✓ none is open' : `${countWords(open.length, 'is', 'are')} open`}
        {wrong > 0 && <span className={css['mark']}>, ◆ {wrong} past a time that the law names</span>}.
      </p>
      {incidents.data.length === 0 ? (
        <Empty title="Nothing went wrong that is known">
          Press N as soon as somebody tells of something: the time runs from then on.
        </Empty>
      ) : (
        <table className={css['table']} aria-label="Incidents">
          <thead>
            <tr>
              <th scope="col">Incident</th>
              <th scope="col">Known</th>
              <th scope="col">People</th>
              <th scope="col">How grave</th>
              <th scope="col">State</th>
            </tr>
          </thead>
          <tbody>
            {incidents.data.map((i) => (
              <tr key={i.id}>
                <td>
                  <a href={incidentLink(i.id)}>
                    {incidentNumber(i.id)}, {i.title}
                  </a>
                  <span className={css['place']}> {INCIDENT_KINDS[i.kind]}</span>
                </td>
                <td>{whenWords(i.knownAt)}</td>
                <td>{i.people || '–'}</td>
                <td>{i.score === null ? '–' : `${i.level ?? ''}, ${i.score.toFixed(2)}`}</td>
                <td>
                  {i.isNone ? (
                    '✓ no breach'
                  ) : i.closedAt ? (
                    '✓ closed'
                  ) : i.isWrong ? (
                    <span className={css['mark']}>◆ {i.next}</span>
                  ) : (
                    `○ ${i.next}`
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
