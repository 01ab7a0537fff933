import { useState } from 'react';
import { figureText, valueWords } from '../../../core/figures/told.ts';
import { toldValue } from '../../../core/figures/figure.ts';
import { withCapital } from '../../../core/text/as-sentence.ts';
import { go } from '../../desk/location.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Sparkline } from '../../parts/Sparkline.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { figureLink } from '../boards/BoardSheet.tsx';
import { useCatalogue } from '../boards/use-boards.ts';
import css from '../boards/boards.module.css';

/** Every figure there is, with what it counts. */
export function FiguresSheet() {
  const catalogue = useCatalogue();
  const [text, setText] = useState('');
  if (catalogue.isError) return <Failure error={catalogue.error} onRetry={() => void catalogue.refetch()} />;
  if (!catalogue.data) return <Loading what="the figures" />;
  const wanted = text.trim().toLowerCase();
  const found = catalogue.data.filter((f) =>
    `${f.name} ${f.definition} ${f.id}`.toLowerCase().includes(wanted),
  );
  const areas = [...new Set(found.map((f) => f.area))];
  return (
    <>
      <SheetHead
        title="Figures"
        detail={`${catalogue.data.length} numbers that the areas answer for: boards, reports and tests of measures read these and no others`}
      />
      <div className={css['filters']}>
        <input
          type="search"
          aria-label="Filter figures"
          placeholder="Filter figures"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      {found.length === 0 && <Empty title={`No figure is about “${text}”`} />}
      {areas.map((area) => (
        <section key={area}>
          <h2 className={css['title']}>{withCapital(area)}</h2>
          <table className={css['table']}>
            <thead>
              <tr>
                <th scope="col">Figure</th>
                <th scope="col">Now</th>
                <th scope="col">Wanted</th>
                <th scope="col">A year</th>
              </tr>
            </thead>
            <tbody>
              {found
                .filter((f) => f.area === area)
                .map((f) => {
                  const { value, of } = figureText(f, f.days.at(-1) ?? null);
                  return (
                    <tr key={f.id}>
                      <th scope="row">
                        <a
                          href={figureLink(f.id)}
                          title={f.definition}
                          onClick={(e) => {
                            if (e.ctrlKey || e.metaKey || e.shiftKey) return;
                            e.preventDefault();
                            go(figureLink(f.id));
                          }}
                        >
                          {f.name}
                        </a>
                      </th>
                      <td>
                        <b>{value}</b> {of}
                      </td>
                      <td>{f.target === null ? '' : valueWords(f, f.target)}</td>
                      <td>
                        <Sparkline
                          values={f.days.flatMap((d) => toldValue(f, d).value ?? [])}
                          label={`${f.name} in a year`}
                        />
                      </td>
                    </tr>
                  );
                })}
            </tbody>
          </table>
        </section>
      ))}
    </>
  );
}
