import type { RoleOutlook } from '../../../server/desk/role-outlook.ts';
import { isBuiltIn } from '../../../core/accounts/roles/built-in-role.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, dateWords, numberWords } from '../../desk/words.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Button } from '../../parts/Button.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { personLink, roleLink } from '../links.ts';
import { countingWords } from './RolesOverview.tsx';
import { useRole, useRoleOutlook } from './use-roles.ts';
import css from '../account.module.css';

/** Who holds a role, what they use of it, and what else it takes. */
export function RoleSoundings({ id }: { readonly id: string }) {
  return isBuiltIn(id) ? <Outlook id={id} revision={0} /> : <OwnOutlook id={id} />;
}

function OwnOutlook({ id }: { readonly id: string }) {
  const rule = useRole(id);
  return <Outlook id={id} revision={rule.data?.revision ?? 0} />;
}

function Outlook({ id, revision }: { readonly id: string; readonly revision: number }) {
  const { data, isError, error, refetch } = useRoleOutlook(id, revision);
  if (isError && !data) return <Failure error={error} onRetry={() => void refetch()} />;
  if (!data) return <Loading what="who holds it" />;
  return (
    <>
      <Holders of={data} />
      {data.holders.length > 0 && <Use of={data} />}
      {(data.kin.length > 0 || data.blind.length > 0) && <Kin of={data} />}
      {data.elsewhere.length > 0 && <ElsewhereList of={data} />}
    </>
  );
}

function Holders({ of }: { readonly of: RoleOutlook }) {
  return (
    <SoundingsSection title="Soundings · who holds it">
      {of.holders.length === 0 && (
        <p className={css['quiet']}>Nobody. It is given on the sheet of a person.</p>
      )}
      <CheckList>
        {of.holders.map((h) => (
          <li key={h.id}>
            <a href={personLink(h.id)}>{h.name}</a>
            <small>
              {h.disabled
                ? '◆ cannot sign in'
                : `${numberWords(h.used)} of ${countWords(of.actions.length, 'permission')} used`}
              {` · since ${dateWords(h.given_at)}${h.given_by ? `, by ${h.given_by}` : ''}`}
            </small>
            {h.gains.length > 0 && <small>◇ would gain: {h.gains.join(', ')}</small>}
            {h.loses.length > 0 && <small>◇ would lose: {h.loses.join(', ')}</small>}
          </li>
        ))}
      </CheckList>
    </SoundingsSection>
  );
}

function Use({ of }: { readonly of: RoleOutlook }) {
  const mayMake = useMay('accounts.roles');
  return (
    <SoundingsSection title="Against its use">
      <FigureRow>
        <Figure value={numberWords(of.used.length)} words="permissions used" />
        <Figure value={numberWords(of.unused.length)} words="used by nobody" />
      </FigureRow>
      <p className={css['quiet']}>{countingWords(of.counting)}.</p>
      {of.unused.length > 0 && (
        <>
          <p className={css['mark']}>◆ Nobody used: {of.unused.map((u) => u.words).join(', ')}.</p>
          {mayMake && of.used.length > 0 && (
            <Button onClick={() => setQuery({ new: 'role', from: `used:${of.id}` }, 'push')}>
              Make one of what is used
            </Button>
          )}
        </>
      )}
    </SoundingsSection>
  );
}

const KIN_WORDS = { contains: 'Allows all of', same: 'Allows the same as', within: 'Is all in' } as const;

function Kin({ of }: { readonly of: RoleOutlook }) {
  return (
    <SoundingsSection title="Beside other roles">
      <CheckList>
        {of.kin.map((k) => (
          <li key={k.id}>
            {KIN_WORDS[k.is]} <a href={roleLink(k.id)}>{k.name}</a>
          </li>
        ))}
        {of.blind.map((b) => (
          <li key={b.act}>
            ◇ {b.act}: without {b.lacks}, it can be done but not looked at
          </li>
        ))}
      </CheckList>
    </SoundingsSection>
  );
}

const TOLD_MARKS = { granted: '✓', refused: '◆', 'not tried': '○', 'no way': '–' } as const;
const TOLD_WORDS = {
  granted: 'it does',
  refused: 'it refused',
  'not tried': 'not tried yet',
  'no way': 'it takes none',
} as const;

function ElsewhereList({ of }: { readonly of: RoleOutlook }) {
  const acts = [...new Set(of.elsewhere.map((e) => e.act))];
  return (
    <SoundingsSection title="What other systems must grant">
      {acts.map((act) => (
        <div key={act}>
          <p className={css['quiet']}>For {act}</p>
          <CheckList>
            {of.elsewhere
              .filter((e) => e.act === act)
              .map((e) => (
                <li key={e.link}>
                  {TOLD_MARKS[e.told]} <a href={e.link}>{e.system}</a>
                  <small>
                    {e.needs}
                    {e.told === 'no way' ? '' : ` · ${TOLD_WORDS[e.told]}`}
                    {e.said && `: ${e.said}`}
                  </small>
                </li>
              ))}
          </CheckList>
        </div>
      ))}
    </SoundingsSection>
  );
}
