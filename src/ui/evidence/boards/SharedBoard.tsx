import type { ShownBoard } from '../../../server/desk/shown-board.ts';
import { dateWords } from '../../desk/words.ts';
import { TileBody } from './TileBody.tsx';
import css from './boards.module.css';

/** A board for whoever has its address: numbers and how they went, without their rows. */
export function SharedBoard({ shown }: { readonly shown: ShownBoard }) {
  return (
    <>
      {shown.board.about && <p className={css['about']}>{shown.board.about}</p>}
      <p className={css['of']}>
        On {dateWords(shown.day)}, compared with {dateWords(shown.comparedWith)}
      </p>
      <ul className={css['tiles']}>
        {shown.tiles
          .filter((t) => t.figure !== null)
          .map((t) => (
            <li key={t.tile.id} className={css['tile']} data-wide={t.tile.as === 'number' ? undefined : true}>
              <div className={css['head']}>
                <h2>{t.figure?.name}</h2>
              </div>
              <TileBody shown={t} compare={shown.board.compare} />
              <p className={css['of']}>{t.figure?.definition}</p>
            </li>
          ))}
      </ul>
    </>
  );
}
