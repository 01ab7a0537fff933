import type { PlaceSheet } from '../../../server/access/place-sheet.ts';
import { numberWords } from '../../desk/words.ts';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { lensLink } from '../../holdings/offers.ts';
import { CopyText } from '../../parts/CopyText.tsx';
import { personLink, SOURCES } from '../links.ts';

/** What else is known of a place. */
export function PropertiesTab({ place: p }: { readonly place: PlaceSheet }) {
  const own = p.id.slice(p.id.indexOf('/') + 1);
  return (
    <FigureTable
      columns={['What', 'As it is']}
      rows={[
        { key: 'source', cells: ['Read from', <a href={SOURCES}>{p.sourceName}</a>] },
        {
          key: 'id',
          cells: [
            'What its source calls it',
            <>
              <CopyText text={own} label="the name of the place" />{' '}
              {p.openedAt !== null && (
                <a href={p.openedAt} target="_blank" rel="noreferrer">
                  Open it at the source
                </a>
              )}
            </>,
          ],
        },
        {
          key: 'writes',
          cells: ['Changes from here', p.writes ? 'are written to its source' : 'become work orders'],
        },
        {
          key: 'owner',
          cells: [
            'Owner',
            p.owner === null ? (
              'nobody'
            ) : p.owner.key === null ? (
              p.owner.name
            ) : (
              <a href={personLink(p.owner.key)}>{p.owner.name}</a>
            ),
          ],
        },
        {
          key: 'inherits',
          cells: ['Inherits', p.isFile ? 'decided by bits and lists' : p.inherits ? 'yes' : 'no'],
        },
        { key: 'gate', cells: ['Nothing below without seeing it', p.gate ? 'yes' : 'no'] },
        { key: 'below', cells: ['Places below', numberWords(p.belowInAll)] },
        {
          key: 'items',
          cells: [
            'Items',
            p.holds === null ? (
              'not known: no source of Holdings is named for it'
            ) : (
              <a href={lensLink(`place in ${JSON.stringify(p.holds)}`)}>
                {numberWords(p.exposure?.items ?? 0)}
              </a>
            ),
          ],
        },
      ]}
    />
  );
}
