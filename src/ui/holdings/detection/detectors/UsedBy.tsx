import type { DetectorUse } from '../../../../server/holdings/detection/detectors/own-detectors.ts';
import { detectorLink, setLink } from '../../links.ts';
import css from '../../holdings.module.css';

/** Who stands on a detector, so that nobody changes it unawares. */
export function UsedBy({ uses }: { readonly uses: readonly DetectorUse[] }) {
  if (uses.length === 0) return null;
  return (
    <section className={css['mapping']}>
      <h2>Used by</h2>
      <ul className={css['uses']}>
        {uses.map((u) => {
          const href = u.what === 'detector' ? detectorLink(u.id) : setLink(u.id);
          return (
            <li key={href}>
              <a href={href}>{u.name}</a>, a {u.what}: {u.how}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
