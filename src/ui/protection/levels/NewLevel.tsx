import { NewNamed } from '../../rules/NewNamed.tsx';
import { levelLink } from '../links.ts';

export function NewLevel() {
  return (
    <NewNamed
      title="New level"
      path="/api/protection/levels"
      link={levelLink}
      most={80}
      placeholder="Confidential"
    >
      It begins stronger than all others. How it shows, and where, is said on its sheet.
    </NewNamed>
  );
}
