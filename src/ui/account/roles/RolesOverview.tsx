import type { Roles } from '../../../server/desk/role-outlook.ts';
import { countWords, dateWords, numberWords } from '../../desk/words.ts';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { personLink, roleLink } from '../links.ts';
import { useRoles } from './use-roles.ts';
import css from '../account.module.css';

/** Roles beside each other: who holds them, what of them nobody uses, and which holds which. */
export function RolesOverview() {
  const roles = useRoles();
  if (roles.isError && !roles.data)
    return <Failure error={roles.error} onRetry={() => void roles.refetch()} />;
  if (!roles.data) return <Loading what="roles" />;
  const { roles: all, counting, needless } = roles.data;
  const broad = all.filter((r) => r.unused > 0).length;
  return (
    <>
      <SheetHead
        title={
          broad === 0
            ? '✓ Every role that is held is used'
            : `◆ ${countWords(broad, 'role is', 'roles are')} broader than what is done with ${broad === 1 ? 'it' : 'them'}`
        }
        detail={countingWords(counting)}
      />
      {needless.map((n) => (
        <p key={n.id} className={css['mark']}>
          ◆ <a href={personLink(n.id)}>{n.name}</a> holds {n.roles.join(', ')}, which{' '}
          {n.roles.length === 1 ? 'allows' : 'allow'} nothing that their other roles do not
        </p>
      ))}
      <FigureTable
        columns={[
          'Role',
          { figure: 'Allows' },
          { figure: 'Held by' },
          { figure: 'Used by nobody' },
          'Allows all that these do',
        ]}
        rows={all.map((r) => ({
          key: r.id,
          cells: [
            <>
              <a href={roleLink(r.id)}>{r.name}</a> {r.own && <StageTag state={r.state} />}
            </>,
            numberWords(r.allows),
            r.holders === 0 ? 'nobody' : numberWords(r.holders),
            r.holders === 0 ? '–' : r.unused === 0 ? '✓ none' : `◆ ${numberWords(r.unused)}`,
            r.contains.join(', '),
          ],
        }))}
      />
    </>
  );
}

export function countingWords({ days, onlySince }: Roles['counting']): string {
  return `Use is counted over ${numberWords(days)} days${onlySince === null ? '' : `, so far since ${dateWords(onlySince)}`}`;
}
