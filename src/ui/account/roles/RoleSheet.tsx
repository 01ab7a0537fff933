import { isBuiltIn } from '../../../core/accounts/roles/built-in-role.ts';
import { builtInActions } from '../../../core/accounts/roles/permissions.ts';
import {
  newOwnRole,
  OwnRole,
  ROLE_SENTENCE,
  ROLE_VOCABULARY,
  roleActions,
} from '../../../core/accounts/roles/own-role.ts';
import type { BuiltInRole } from '../../../core/accounts/roles/built-in-role.ts';
import type { Act } from '../../../core/rules/rule.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { SentenceSheet } from '../../rules/SentenceSheet.tsx';
import { ROLES } from '../links.ts';
import { useRole } from './use-roles.ts';

/** What a role allows. */
export function RoleSheet({ id }: { readonly id: string }) {
  return isBuiltIn(id) ? <BuiltInSheet role={id} /> : <OwnRoleSheet id={id} />;
}

function BuiltInSheet({ role }: { readonly role: BuiltInRole }) {
  const actions = builtInActions(role);
  return (
    <>
      <SheetHead
        title={role}
        detail={`It ships with the program and stays as it is: ${countWords(actions.length, 'permission')}`}
        actions={<CopyRole id={role} />}
      />
      <RuleSentence
        sentence={ROLE_SENTENCE.slice(1)}
        content={newOwnRole(role, actions)}
        set={() => undefined}
        fixed
        error={() => undefined}
      />
    </>
  );
}

function OwnRoleSheet({ id }: { readonly id: string }) {
  const rule = useRole(id);
  if (rule.isError && !rule.data) return <Failure error={rule.error} onRetry={() => void rule.refetch()} />;
  if (!rule.data) return <Loading what="the role" />;
  return (
    <SentenceSheet
      rule={rule.data}
      schema={OwnRole}
      sentence={ROLE_SENTENCE}
      vocabulary={ROLE_VOCABULARY}
      detail={(content) =>
        `A role of your own: ${numberWords(roleActions(content).length)} of the ${countWords(builtInActions('officer').length, 'permission')} there are`
      }
      means={{
        draft: 'it allows nothing yet, and cannot be given',
        rehearsing: 'it shows who could do what, and allows nothing',
        inForce: 'who holds it may do this',
        stopped: 'it allows nothing',
      }}
      done={DONE_WORDS}
      edit="accounts.roles"
      force="accounts.roles"
      list={ROLES}
      actions={<CopyRole id={id} />}
    />
  );
}

function CopyRole({ id }: { readonly id: string }) {
  const mayMake = useMay('accounts.roles');
  return (
    mayMake && (
      <Button onClick={() => setQuery({ new: 'role', from: `all:${id}` }, 'push')}>
        Make one of your own from it
      </Button>
    )
  );
}

const DONE_WORDS: Readonly<Record<Act['act'], string>> = {
  rehearse: 'Rehearsing: it allows nothing yet.',
  'end rehearsal': 'The rehearsal is over.',
  'put in force': 'In force: who holds it may do this from now on.',
  pause: 'Paused: it allows nothing until it is resumed.',
  resume: 'In force again.',
  retire: 'Retired.',
  reopen: 'A draft again.',
};
