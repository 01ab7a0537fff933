import type { Demand, SignInPolicy } from '../../../core/accounts/sign-in/policy.ts';
import { OWN_WAYS, OWN_WAY_WORDS, type OwnWay } from '../../../core/accounts/sign-in/way.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { providerLink } from '../links.ts';
import { useRoles } from '../roles/use-roles.ts';
import { NewProvider } from './NewProvider.tsx';
import { useProviders } from './use-providers.ts';
import { usePolicyDraft, type PolicyDraft } from './use-policy-draft.ts';
import css from '../account.module.css';

/** What signing in asks of whom, and whose word lets people in. */
export function SignOnSheet() {
  const draft = usePolicyDraft();
  const { query } = useDeskLocation();
  const mayEdit = useMay('accounts.edit');
  return (
    <div className={css['sheet']}>
      <SheetHead
        title="Signing in"
        detail="What is asked of whom, and the providers whose word lets people in."
        actions={
          mayEdit && <Button onClick={() => setQuery({ new: 'provider' }, 'push')}>Add a provider …</Button>
        }
      />
      <h2>What is asked</h2>
      <Policy draft={draft} />
      <h2>Providers</h2>
      <Providers />
      {query.get('new') === 'provider' && mayEdit && <NewProvider />}
    </div>
  );
}

function Policy({ draft }: { readonly draft: PolicyDraft }) {
  const mayEdit = useMay('accounts.edit');
  const roles = useRoles().data?.roles ?? [];
  if (draft.query.isError)
    return <Failure error={draft.query.error} onRetry={() => void draft.query.refetch()} />;
  const { content } = draft;
  if (!content) return <Loading what="what is asked" />;
  const { all, roles: of } = content;
  const set = (role: string, demand: Demand) => draft.set({ ...content, roles: { ...of, [role]: demand } });
  const without = (role: string): SignInPolicy => ({
    ...content,
    roles: Object.fromEntries(Object.entries(of).filter(([r]) => r !== role)),
  });
  const free = roles.filter((r) => !(r.id in of));
  return (
    <>
      <DemandSentence
        label="Everybody"
        demand={all}
        fixed={!mayEdit}
        set={(demand) => draft.set({ ...content, all: demand })}
      />
      {Object.entries(of).map(([role, demand]) => (
        <div key={role} className={css['line']}>
          <DemandSentence
            label={roles.find((r) => r.id === role)?.name ?? role}
            demand={demand}
            fixed={!mayEdit}
            set={(d) => set(role, d)}
          />
          {mayEdit && (
            <Button
              kind="quiet"
              aria-label={`Ask nothing more of ${roles.find((r) => r.id === role)?.name ?? role}`}
              onClick={() => draft.set(without(role))}
            >
              Take out
            </Button>
          )}
        </div>
      ))}
      {mayEdit && free.length > 0 && (
        <Sentence label="And">
          <Slot
            label="Ask more of a role"
            words="ask more of a role …"
            edit={{
              kind: 'choice',
              value: '',
              options: free.map((r) => ({ value: r.id, words: r.name })),
              set: (role) => set(role, { ...(content.roles[role] ?? all), own: stricter(all.own) }),
            }}
          />
        </Sentence>
      )}
      <p className={css['quiet']}>
        Of somebody with several roles the strictest is asked. A stricter way than the least always does.
      </p>
      {draft.isChanged && (
        <div className={css['row']}>
          <Button kind="primary" busy={draft.isSaving} onClick={() => void draft.save()}>
            Ask it from now on
          </Button>
          <Button onClick={() => draft.set(undefined)}>Leave it as it was</Button>
        </div>
      )}
      {draft.refused && <p role="alert">◆ {draft.refused}</p>}
    </>
  );
}

function stricter(own: OwnWay): OwnWay {
  return own === 'password' ? 'two factors' : own;
}

function DemandSentence({
  label,
  demand,
  fixed,
  set,
}: {
  readonly label: string;
  readonly demand: Demand;
  readonly fixed: boolean;
  readonly set: (demand: Demand) => void;
}) {
  return (
    <Sentence label={label}>
      signs in with{' '}
      <Slot
        label={`${label}: the least`}
        words={OWN_WAY_WORDS[demand.own]}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: demand.own,
          options: OWN_WAYS.map((w) => ({ value: w, words: OWN_WAY_WORDS[w] })),
          set: (own) => set({ ...demand, own: own as OwnWay, signOn: demand.signOn || own === 'none' }),
        }}
      />
      , sign-on{' '}
      <Slot
        label={`${label}: sign-on`}
        words={demand.signOn ? 'does as well' : 'does not do'}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: demand.signOn ? 'yes' : 'no',
          options: [
            { value: 'yes', words: 'does as well' },
            { value: 'no', words: 'does not do' },
          ],
          set: (v) => set({ ...demand, signOn: v === 'yes' || demand.own === 'none' }),
        }}
      />
      ; a session ends after{' '}
      <Slot
        label={`${label}: unused`}
        words={`${demand.idleMinutes} minutes`}
        fixed={fixed}
        edit={{
          kind: 'number',
          unit: 'minutes',
          least: 5,
          most: Math.min(10_080, demand.mostHours * 60),
          value: demand.idleMinutes,
          set: (idleMinutes) => set({ ...demand, idleMinutes }),
        }}
      />{' '}
      unused, and{' '}
      <Slot
        label={`${label}: at most`}
        words={`${demand.mostHours} hours`}
        fixed={fixed}
        edit={{
          kind: 'number',
          unit: 'hours',
          least: Math.ceil(demand.idleMinutes / 60),
          most: 720,
          value: demand.mostHours,
          set: (mostHours) => set({ ...demand, mostHours }),
        }}
      />{' '}
      whatever happens.
    </Sentence>
  );
}

function Providers() {
  const providers = useProviders();
  if (providers.isError && !providers.data)
    return <Failure error={providers.error} onRetry={() => void providers.refetch()} />;
  if (!providers.data) return <Loading what="providers" />;
  if (providers.data.providers.length === 0)
    return (
      <Empty title="No provider yet">
        People sign on with what they have at your organisation’s provider (OpenID Connect), and its groups
        give them roles here.
      </Empty>
    );
  return (
    <FigureTable
      columns={['Provider', 'Where', { figure: 'People' }, 'Keeps accounts', 'State']}
      rows={providers.data.providers.map((p) => ({
        key: p.id,
        cells: [
          <a
            href={providerLink(p.id)}
            onClick={(e) => {
              e.preventDefault();
              go(providerLink(p.id));
            }}
          >
            {p.content.name}
          </a>,
          new URL(p.issuer).host,
          String(p.people),
          p.keeping
            ? `${countWords(p.kept, 'account')}, ${p.keeping.usedAt ? `asked ${whenWords(p.keeping.usedAt)}` : 'not asked yet'}`
            : 'no',
          p.stoppedAt ? `stopped ${whenWords(p.stoppedAt)}` : '○ in use',
        ],
      }))}
    />
  );
}
