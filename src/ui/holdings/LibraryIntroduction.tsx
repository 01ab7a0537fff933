import { countWords } from '../desk/words.ts';
import { go } from '../desk/location.ts';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Loading } from '../parts/states.tsx';
import { detectorLink, useDetectors } from './HoldingsArea.tsx';
import css from './holdings.module.css';

/** All detectors by what they are about. */
export function LibraryIntroduction() {
  const detectors = useDetectors().data;
  if (!detectors) return <Loading what="detectors" />;
  const categories = [...new Set(detectors.map((d) => d.category))];
  return (
    <>
      <SheetHead
        title="Detectors"
        detail={`${countWords(detectors.length, 'detector')} ship with Yare Warden, each with its source and its own test. Try them together on the right, or open one.`}
      />
      {categories.map((category) => {
        const mine = detectors.filter((d) => d.category === category);
        return (
          <section key={category} className={css['category']}>
            <h2>
              {category} <span>{mine.length}</span>
            </h2>
            <ul>
              {mine.map((d) => (
                <li key={d.id}>
                  <a
                    href={detectorLink(d.id)}
                    onClick={(e) => {
                      if (e.ctrlKey || e.metaKey || e.shiftKey) return;
                      e.preventDefault();
                      go(detectorLink(d.id));
                    }}
                  >
                    {d.name}
                  </a>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}
