import { countWords, numberWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { offeredLink } from '../links.ts';
import { usePublication, usePublicationOutlook } from '../use-publishing.ts';
import css from '../protection.module.css';

/** What the draft would change for people, if it were in force now. */
export function PublicationSoundings({ id }: { readonly id: string }) {
  const rule = usePublication(id);
  const { data } = usePublicationOutlook(id, rule.data?.revision ?? 0);
  if (!data) return null;
  const isSame = data.gain + data.lose + data.begins === 0;
  return (
    <>
      <SoundingsSection title="Soundings · if it were in force now">
        <FigureRow>
          <Figure
            value={numberWords(data.covered)}
            words={`of ${countWords(data.people, 'person', 'people')}`}
          />
          {data.gain > 0 && <Figure value={numberWords(data.gain)} words="would be offered more" />}
          {data.lose > 0 && <Figure value={numberWords(data.lose)} words="would be offered less" />}
        </FigureRow>
        <p className={css['note']}>
          {data.people === 0
            ? 'No list of people was read yet: it is for nobody.'
            : isSame
              ? 'Nothing would change for anybody.'
              : `It is the nearest for ${countWords(data.decides, 'person', 'people')}.`}
          {data.begins > 0 &&
            ` For ${countWords(data.begins, 'person', 'people')} something new would begin with another level than now.`}
        </p>
        {data.changes.map((c) => (
          <p key={c.level} className={css['note']}>
            {c.level}:{' '}
            {[
              c.gained > 0 && `offered to ${numberWords(c.gained)} more`,
              c.lost > 0 && `not offered any more to ${numberWords(c.lost)}`,
            ]
              .filter(Boolean)
              .join(', ')}
          </p>
        ))}
      </SoundingsSection>
      {data.sample.length > 0 && (
        <SoundingsSection title={data.sample.length === 1 ? 'One of them' : 'Some of them'}>
          {data.sample.map((p) => (
            <div key={p.address} className={css['item']}>
              <a href={offeredLink(p.address)}>{p.name}</a>
              {p.words.map((w) => (
                <p key={w}>{w}</p>
              ))}
            </div>
          ))}
        </SoundingsSection>
      )}
    </>
  );
}
