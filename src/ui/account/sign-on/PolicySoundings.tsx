import { countWords, numberWords } from '../../desk/words.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import type { PolicyVerdict } from '../../../core/accounts/sign-in/policy-outlook.ts';
import { personLink } from '../links.ts';
import { useRoles } from '../roles/use-roles.ts';
import { usePolicyOutlook } from '../sign-in/use-sign-in.ts';
import { usePolicyDraft } from './use-policy-draft.ts';
import css from '../account.module.css';

const MOST_NAMED = 40;

/** What is asked comes to, for everybody who can sign in: who is ready, who sets something up, who cannot. */
export function PolicySoundings() {
  const draft = usePolicyDraft();
  const { data, isError, error, refetch } = usePolicyOutlook(draft.content);
  if (isError && !data) return <Failure error={error} onRetry={() => void refetch()} />;
  if (!data) return <Loading what="who can sign in" />;
  const of = (v: PolicyVerdict['verdict']) => data.filter((p) => p.verdict === v);
  const ends = data.reduce((sum, p) => sum + p.ends, 0);
  const concerned = [...of('cannot'), ...of('sets up')];
  return (
    <>
      <SoundingsSection
        title={draft.isChanged ? 'Soundings · if it were asked now' : 'Soundings · as it is asked'}
      >
        <FigureRow>
          <Figure value={numberWords(of('ready').length)} words="have what it takes" />
          <Figure value={numberWords(of('sets up').length)} words="set something up as they sign in" />
          <Figure
            value={numberWords(of('cannot').length)}
            words="cannot sign in"
            mark={of('cannot').length > 0}
          />
        </FigureRow>
        {draft.isChanged && ends > 0 && (
          <p className={css['quiet']}>{countWords(ends, 'session')} that began otherwise would end.</p>
        )}
      </SoundingsSection>
      {concerned.length > 0 && (
        <SoundingsSection title="Who is concerned">
          <CheckList>
            {concerned.slice(0, MOST_NAMED).map((p) => (
              <li key={p.id}>
                <a href={personLink(p.id)}>{p.name}</a>
                <Why of={p} />
              </li>
            ))}
          </CheckList>
          {concerned.length > MOST_NAMED && (
            <p className={css['quiet']}>And {numberWords(concerned.length - MOST_NAMED)} more.</p>
          )}
        </SoundingsSection>
      )}
    </>
  );
}

function Why({ of }: { readonly of: PolicyVerdict }) {
  const roles = useRoles().data?.roles ?? [];
  const { because, missing, verdict } = of;
  const by =
    because === 'all' ? 'everybody' : (roles.find((r) => r.id === because.role)?.name ?? because.role);
  const what = {
    'second factor': 'sets up a second factor',
    passkey: 'sets up a passkey',
    'sign-on': '◆ has not signed on with a provider that is in use',
    password: '◆ has no password, and sign-on does not do',
    anything: '◆ two roles ask for opposites',
  };
  return (
    <small>
      {verdict === 'cannot' || missing ? what[missing ?? 'anything'] : ''}
      {` · asked of ${by}`}
    </small>
  );
}
