import { useState } from 'react';
import { may } from '../../core/accounts/authority.ts';
import type { Holder } from '../../core/accounts/roles/held-role.ts';
import { AREAS } from '../areas.ts';
import { Button } from '../parts/Button.tsx';
import { lazyPart } from '../parts/lazy-part.tsx';
import { useAccount } from './account-context.ts';

const ACTS = AREAS.flatMap(({ itemActs = [] }) =>
  itemActs.map((act) => ({ ...act, Dialog: lazyPart(act.words, act.dialog) })),
);

/** Whether somebody can do anything with several items. */
export function mayActOnItems(account: Holder): boolean {
  return ACTS.some((a) => may(account, a.action));
}

/** What areas can do with the items that are chosen. */
export function ItemActs({
  items,
  onDone,
}: {
  readonly items: readonly number[];
  readonly onDone: () => void;
}) {
  const account = useAccount();
  const [doing, setDoing] = useState<string>();
  return (
    <>
      {ACTS.filter((a) => may(account, a.action)).map(({ words, Dialog }) => (
        <span key={words}>
          <Button onClick={() => setDoing(words)}>{words}</Button>
          {doing === words && (
            <Dialog
              items={items}
              onClose={() => {
                setDoing(undefined);
                onDone();
              }}
            />
          )}
        </span>
      ))}
    </>
  );
}
