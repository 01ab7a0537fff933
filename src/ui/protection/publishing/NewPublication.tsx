import { NewNamed } from '../../rules/NewNamed.tsx';
import { publicationLink } from '../links.ts';

export function NewPublication() {
  return (
    <NewNamed
      title="New publication"
      path="/api/protection/publications"
      link={publicationLink}
      most={120}
      placeholder="Crew office"
    >
      It begins with all levels in force, for everyone. Which, for whom and in what order is said on its
      sheet.
    </NewNamed>
  );
}
