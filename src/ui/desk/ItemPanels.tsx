import { AREAS } from '../areas.ts';
import { lazyPart } from '../parts/lazy-part.tsx';
import { useAccount } from './account-context.ts';
import { may } from '../../core/accounts/authority.ts';

const PANELS = AREAS.flatMap(({ area, action, name, itemPanel }) =>
  itemPanel ? [{ area, action, Panel: lazyPart(name, itemPanel) }] : [],
);

/** What every area tells of an item that is held. */
export function ItemPanels({ id }: { readonly id: string }) {
  const account = useAccount();
  return PANELS.filter((p) => may(account, p.action)).map(({ area, Panel }) => <Panel key={area} id={id} />);
}
