import { useMutation } from '@tanstack/react-query';
import { request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import css from '../protection.module.css';

interface Asked {
  readonly item: number;
  readonly rule: string;
  readonly name: string;
  readonly levelName: string;
}

/** Yes or no to a level that is proposed for an item. */
export function SayToProposal({
  proposal: { item, rule, name, levelName },
  onSaid,
}: {
  readonly proposal: Asked;
  readonly onSaid: (words: string) => void;
}) {
  const say = useMutation({
    mutationFn: (agree: boolean) =>
      request<{ unstamped: string | null }>('POST', '/api/protection/proposals', { item, rule, agree }),
    onSuccess: ({ unstamped }, agree) =>
      onSaid(
        !agree
          ? `${name} stays as it is, and is not asked about again by this rule.`
          : unstamped === null
            ? `${name} is ${levelName} now, and stamped.`
            : `${name} is ${levelName} now. ${unstamped}`,
      ),
    onError: tellFailure,
  });
  return (
    <span className={css['says']}>
      <Button
        disabled={say.isPending}
        aria-label={`Yes, ${name} is ${levelName}`}
        onClick={() => say.mutate(true)}
      >
        Yes
      </Button>
      <Button disabled={say.isPending} aria-label={`No, leave ${name}`} onClick={() => say.mutate(false)}>
        No
      </Button>
    </span>
  );
}
