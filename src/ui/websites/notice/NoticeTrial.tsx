import { useQuery } from '@tanstack/react-query';
import type * as trialApi from '../../../pages/api/websites/[host]/trial.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, percentWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { siteLink } from '../links.ts';
import shared from '../websites.module.css';

const SHARES = [1, 5, 10, 25, 50];

/** Two versions before live visitors: who sees which, what came of it, and whether the better one is as fair. */
export function NoticeTrial({ host, stage }: { readonly host: string; readonly stage: Stage }) {
  const may = useMay('websites.put-in-force');
  const path = `/api${siteLink(host)}/trial`;
  const view = useQuery({
    queryKey: ['notice-trial', host, JSON.stringify(stage)],
    queryFn: () => request<AnswerOf<typeof trialApi.GET>>('GET', path),
  });
  if (!view.data) return null;
  const { trial, rates, verdict } = view.data;
  const send = async (method: 'PUT' | 'DELETE', body: object, words: string) => {
    try {
      await request(method, path, body);
      tell(words);
    } catch (e) {
      tellFailure(e);
    } finally {
      await view.refetch();
    }
  };
  if (!trial)
    return stage.state === 'rehearsing' && stage.over && may ? (
      <p className={shared['dim']}>
        Version {stage.version} can be tried before live visitors, against version {stage.over.version}.{' '}
        <Button onClick={() => void send('PUT', { share: 10 }, 'One visitor of ten sees the other version.')}>
          Try it with 10 %
        </Button>
      </p>
    ) : null;
  return (
    <section className={shared['trial']} aria-label="Two versions on trial">
      <p className={shared['sentence']}>
        On trial since {whenWords(trial.begun_at)}:{' '}
        <Slot
          label="Share of visitors on trial"
          words={`${trial.share} %`}
          fixed={!may}
          edit={{
            kind: 'choice',
            value: String(trial.share),
            options: SHARES.map((s) => ({ value: String(s), words: `${s} %` })),
            set: (s) =>
              void send('PUT', { share: Number(s) }, `${s} % of visitors see version ${trial.version}.`),
          }}
        />{' '}
        of visitors, by their key, see version {trial.version}; the others see version {trial.against}.{' '}
        {may && (
          <Button onClick={() => void send('DELETE', {}, 'Everybody sees the version in force again.')}>
            End the trial
          </Button>
        )}
      </p>
      <table className={shared['plain']} aria-label="What the trial shows">
        <thead>
          <tr>
            <th>Version</th>
            <th>Answered</th>
            <th>Allowed something</th>
            <th>95% interval</th>
            <th>Not fair</th>
          </tr>
        </thead>
        <tbody>
          {rates.map(({ version, rate, unmet }) => {
            const refused = rate?.shares?.refused;
            return (
              <tr key={version}>
                <td>{version}</td>
                <td>{countWords(rate?.answered ?? 0, 'visitor')}</td>
                <td>{refused ? percentWords(1 - refused.share, 1) : 'too few'}</td>
                <td>
                  {refused && `${percentWords(1 - refused.high, 1)} to ${percentWords(1 - refused.low, 1)}`}
                </td>
                <td className={unmet.length > 0 ? shared['leak'] : undefined}>
                  {unmet.length > 0 ? `◆ ${unmet.join('; ')}` : '✓ nothing'}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {verdict && <p>{verdict.words}</p>}
      {verdict?.warning && <p className={shared['leak']}>◆ {verdict.warning}</p>}
    </section>
  );
}
