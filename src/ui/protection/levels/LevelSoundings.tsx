import { useQuery } from '@tanstack/react-query';
import type * as figuresApi from '../../../pages/api/protection/levels/[id]/figures.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Bars } from '../../parts/Bars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { go } from '../../desk/location.ts';
import { levelRuleLink, publicationLink } from '../links.ts';
import css from '../protection.module.css';

/** What has the level, where that is, and which rules set it. */
export function LevelSoundings({ id }: { readonly id: string }) {
  const { data } = useQuery({
    queryKey: ['levels', id, 'figures'],
    queryFn: () =>
      request<AnswerOf<typeof figuresApi.GET>>(
        'GET',
        `/api/protection/levels/${encodeURIComponent(id)}/figures`,
      ),
  });
  if (!data) return null;
  const line = `level one of ${JSON.stringify(id)}`;
  return (
    <>
      <SoundingsSection title="Soundings · what has this level">
        <FigureRow>
          <Figure
            value={numberWords(data.items)}
            words={data.items === 1 ? 'item' : 'items'}
            href={lensLink(line)}
          />
          {data.items > 0 && <Figure value={numberWords(data.byHand)} words="chosen by hand" />}
        </FigureRow>
        {data.unstamped > 0 && (
          <p className={css['note']}>
            {countWords(data.unstamped, 'of them does', 'of them do')} not say so themselves: they carry no
            marking, or could not be stamped.
          </p>
        )}
        {data.items === 0 && <p className={css['note']}>Nothing has it yet.</p>}
      </SoundingsSection>
      {data.bySource.length > 0 && (
        <SoundingsSection title="By source">
          <Bars
            label="By source"
            bars={data.bySource.map((s) => ({ key: s.id, name: s.name, count: s.count }))}
            onChoose={(source) => go(lensLink(`${line} and place in ${JSON.stringify(source)}`))}
          />
        </SoundingsSection>
      )}
      <SoundingsSection title="Set where">
        {data.rules.length === 0 ? (
          <p className={css['note']}>No rule sets it: people alone choose it.</p>
        ) : (
          data.rules.map((r) => (
            <p key={r.id}>
              <a href={levelRuleLink(r.id)}>{r.name}</a>{' '}
              {r.stage.state !== 'in force' && <StageTag state={r.stage.state} />}
            </p>
          ))
        )}
      </SoundingsSection>
      <SoundingsSection title="Offered by">
        {data.publications.length === 0 ? (
          <p className={css['note']}>It is published to nobody: rules and the desk alone set it.</p>
        ) : (
          data.publications.map((p) => (
            <p key={p.id}>
              <a href={publicationLink(p.id)}>{p.name}</a>{' '}
              {p.stage.state !== 'in force' && <StageTag state={p.stage.state} />}
            </p>
          ))
        )}
      </SoundingsSection>
    </>
  );
}
