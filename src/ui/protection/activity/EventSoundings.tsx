import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import type { ConditionName, Weighed } from '../../../core/protection/handling/decision.ts';
import type * as eventApi from '../../../pages/api/protection/activity/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { sizeWords, whenWords } from '../../desk/words.ts';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useHandlingNames } from '../handling/use-handling.ts';
import { deviceLink, handlingLink } from '../links.ts';
import css from '../protection.module.css';

const DECIDED = { go: 'let go', record: 'recorded', ask: 'asked for a reason', stop: 'stopped' } as const;
const FAILED: Readonly<Record<ConditionName, string>> = {
  channel: 'not on this way',
  person: 'not for this person',
  first: 'not begun with this person',
  device: 'not on this device',
  network: 'not on this network',
  towards: 'not towards there',
  data: 'not for what it has',
  pass: 'the officer lets them by for now',
};

/** One thing that was done: what was decided then and by which rules, and what the rules of now say. */
export function EventSoundings({ at, id }: { readonly at: string; readonly id: string }) {
  const asked = useQuery({
    queryKey: ['activity-event', at, id],
    queryFn: () =>
      request<AnswerOf<typeof eventApi.GET>>('GET', `/api/protection/activity/${id}${queryString({ at })}`),
  });
  const names = useHandlingNames();
  if (asked.isError) return <Failure error={asked.error} onRetry={() => void asked.refetch()} />;
  if (!asked.data) return <Loading what="what was done" />;
  const { event: e, device, now, rules } = asked.data;
  const name = (rule: string) => rules[rule] ?? `rule ${rule}`;
  const held = now?.weighed.filter((w) => w.wants) ?? [];
  const nearly = now?.weighed.filter((w) => !w.wants && w.failed !== 'channel') ?? [];
  return (
    <article>
      <SoundingsSection title="What was done">
        <div className={css['named']}>
          <b>
            {e.act}
            {e.channel && ` · ${e.channel}`}
          </b>
          <button
            type="button"
            aria-label="Close it"
            className={css['linkButton']}
            onClick={() => setQuery({ event: null, at: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        <dl className={css['facts']}>
          <Line name="When" value={whenWords(e.at)} />
          <Line name="Person" value={e.person} />
          {e.item && (
            <Line name="What" value={<span className={css['name']}>{e.item.name || 'text'}</span>} />
          )}
          {e.item && e.item.size > 0 && <Line name="Size" value={sizeWords(e.item.size)} />}
          {e.towards.length > 0 && (
            <Line name="Towards" value={<span className={css['name']}>{e.towards.join(', ')}</span>} />
          )}
          {e.program && <Line name="Program" value={e.program} />}
          {e.network && <Line name="Network" value={e.network} />}
          {device > 0 && <Line name="Device" value={<a href={deviceLink(device)}>{device}</a>} />}
        </dl>
        {e.findings.length > 0 && (
          <ul>
            {e.findings.map((f) => (
              <li key={f.detector}>
                {f.matches} {names?.items.value('data', f.detector) ?? f.detector},{' '}
                {Math.floor(f.confidence * 100)}%
              </li>
            ))}
          </ul>
        )}
      </SoundingsSection>
      <SoundingsSection title="Decided then">
        <p>
          <b>{DECIDED[e.outcome]}</b>
          {e.rules[0] && (
            <>
              {' '}
              by <a href={handlingLink(e.rules[0].rule)}>{name(e.rules[0].rule)}</a>, version{' '}
              {e.rules[0].version}
            </>
          )}
          {e.answer && `; they ${e.answer === 'false alarm' ? 'said it was a false alarm' : e.answer}`}
          {e.reason && `: “${e.reason}”`}
        </p>
        {e.rules.length > 1 && (
          <p className={css['note']}>
            Beside it held{' '}
            {e.rules
              .slice(1)
              .map((r) => `${name(r.rule)} (${DECIDED[r.wants]})`)
              .join(', ')}
            .
          </p>
        )}
        {e.counted.length > 0 && (
          <p className={css['note']}>
            Counted by a rehearsal, which nobody noticed:{' '}
            {e.counted.map((r) => `${name(r.rule)} (${DECIDED[r.wants]})`).join(', ')}.
          </p>
        )}
      </SoundingsSection>
      {now && (
        <SoundingsSection title="By the rules of now">
          <p>
            <b>{DECIDED[now.outcome]}</b>
            {now.by && (
              <>
                {' '}
                by <a href={handlingLink(now.by)}>{name(now.by)}</a>
              </>
            )}
          </p>
          <ul className={css['weighed']}>
            {held.map((w) => (
              <WeighedLine key={w.rule} weighed={w} name={name(w.rule)} />
            ))}
            {nearly.map((w) => (
              <WeighedLine key={w.rule} weighed={w} name={name(w.rule)} />
            ))}
          </ul>
        </SoundingsSection>
      )}
    </article>
  );
}

function WeighedLine({ weighed: w, name }: { readonly weighed: Weighed; readonly name: string }) {
  return (
    <li>
      {w.wants ? '✓' : '○'} <a href={handlingLink(w.rule)}>{name}</a>:{' '}
      {w.wants ? DECIDED[w.wants] : w.failed ? FAILED[w.failed] : ''}
      {w.towards.length > 0 && <span className={css['note']}> towards {w.towards.join(', ')}</span>}
    </li>
  );
}

function Line({ name, value }: { readonly name: string; readonly value: React.ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
