import { ACCESS_SOURCE_KINDS } from '../../../core/access/sources/access-source.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { sourceLink } from '../links.ts';
import { useAccessSources } from '../use-access.ts';
import { linesWords } from './lines-words.ts';
import { ReadNow } from './ReadNow.tsx';
import css from '../access.module.css';

/** Where rights, people and groups are read from, how fresh each is, and what of it could not be taken. */
export function SourcesSheet() {
  const sources = useAccessSources();
  const mayEdit = useMay('access.sources');
  if (sources.isError && !sources.data)
    return <Failure error={sources.error} onRetry={() => void sources.refetch()} />;
  if (!sources.data) return <Loading what="the sources" />;
  const add = mayEdit && (
    <Button kind="primary" onClick={() => setQuery({ new: 'source' }, 'push')}>
      Take in a source
    </Button>
  );
  if (sources.data.length === 0)
    return (
      <Empty title="Rights are read from nowhere yet" action={add}>
        Begin with the directory that knows people and groups; then what tells who may do what.
      </Empty>
    );
  const failed = sources.data.filter((s) => s.problem !== null).length;
  return (
    <>
      <SheetHead
        title={
          failed > 0
            ? `◆ ${countWords(failed, 'source')} could not be read`
            : `✓ ${countWords(sources.data.length, 'source')}, all read`
        }
        detail="What could not be read keeps what was known of it before"
        actions={add}
      />
      <FigureTable
        columns={['Source', 'Kind', 'What it tells', 'Read', 'By itself', 'Changes', { unseen: 'Act' }]}
        rows={sources.data.map((s) => ({
          key: s.id,
          cells: [
            <a key="source" href={sourceLink(s.id)}>
              {s.name}
            </a>,
            ACCESS_SOURCE_KINDS[s.address.kind],
            linesWords(s),
            s.problem === null ? (
              s.readAt === null ? (
                'not yet'
              ) : (
                whenWords(s.readAt)
              )
            ) : (
              <span className={css['mark']}>◆ {s.problem}</span>
            ),
            s.content.everyHours === null
              ? 'when somebody asks'
              : `every ${countWords(s.content.everyHours, 'hour')}`,
            s.content.writes ? 'written from here' : 'by work order',
            mayEdit && <ReadNow key="read" source={s} />,
          ],
        }))}
      />
      {sources.data.some((s) => s.faults.length > 0) && (
        <>
          <h2 className={css['heading']}>What could not be taken</h2>
          <ul className={css['plain']}>
            {sources.data.flatMap((s) =>
              s.faults.map((f) => (
                <li key={`${s.id} ${f}`}>
                  ◆ {s.name}: {f}
                </li>
              )),
            )}
          </ul>
        </>
      )}
    </>
  );
}
