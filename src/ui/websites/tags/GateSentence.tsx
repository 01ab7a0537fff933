import { GATE_MODE_WORDS, GATE_MODES, type GateMode } from '../../../core/websites/gate/gate-plan.ts';
import { GateSettings } from '../../../core/websites/gate/gate-settings.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Explanation } from '../../parts/Explanation.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { siteLink } from '../links.ts';
import { useGate } from './use-tags.ts';
import css from './tags.module.css';

/** How the gate of a site works, edited in place. */
export function GateSentence({ site }: { readonly site: SiteDetail }) {
  const fixed = !useMay('websites.put-in-force');
  const gate = useGate(site.host);
  if (gate.isError) return <Failure error={gate.error} onRetry={() => void gate.refetch()} />;
  if (!gate.data) return <Loading what="the gate" />;
  const { settings, plan } = gate.data;
  const put = async (edit: Partial<GateSettings>) => {
    try {
      await request('PATCH', `/api${siteLink(site.host)}/gate`, { ...edit, saw: settings });
      const back = Object.fromEntries(Object.keys(edit).map((k) => [k, settings[k as keyof GateSettings]]));
      tell('The gate works so within seconds.', {
        undo: async () =>
          void (await request('PATCH', `/api${siteLink(site.host)}/gate`, {
            ...back,
            saw: { ...settings, ...edit },
          })),
      });
    } catch (e) {
      tellFailure(e);
    } finally {
      await gate.refetch();
    }
  };
  const wrong = (key: keyof GateSettings, value: unknown) =>
    GateSettings.shape[key].safeParse(value).error?.issues[0]?.message ?? '';
  return (
    <div className={css['gate']}>
      <p>
        The gate holds{' '}
        <Slot
          label="What the gate holds"
          words={GATE_MODE_WORDS[settings.mode]}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: settings.mode,
            options: GATE_MODES.map((m) => ({ value: m, words: m, detail: GATE_MODE_WORDS[m] })),
            set: (mode) => void put({ mode: mode as GateMode }),
          }}
        />
        . While nothing may be stored, it carries{' '}
        <Slot
          label="Parameters of a campaign"
          words={settings.campaign.join(', ') || 'no parameter'}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 500,
            value: settings.campaign.join(' '),
            hint: 'Names of parameters, with a space between them',
            check: (text) => wrong('campaign', words(text)),
            set: (text) => void put({ campaign: words(text) }),
          }}
        />{' '}
        along the visit. An answer holds on{' '}
        <Slot
          label="Where an answer holds"
          words={settings.domain ? `all hosts of ${settings.domain}` : 'this host alone'}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 200,
            value: settings.domain,
            hint: 'The domain whose hosts share it; empty for this host alone',
            check: (text) => wrong('domain', text.trim()),
            set: (text) => void put({ domain: text.trim() }),
          }}
        />
        .
      </p>
      {settings.mode === 'by itself' && (
        <Explanation
          title={`Holds ${countWords(plan.holds.length, 'thing')} by itself; can do nothing about ${plan.open.length}`}
          grounds={[
            ...plan.holds.slice(0, 60).map((h) => ({
              mark: '✓' as const,
              words: `${h.kind === 'request' ? h.host + h.name : `${h.kind} ${h.name}`}, ${site.purposes.find((p) => p.code === h.purpose)?.name ?? h.purpose}${h.without ? ': goes without identifiers' : ''}`,
            })),
            ...plan.open.slice(0, 60).map((o) => ({
              mark: '◆' as const,
              words: `${o.tracker.name} of ${o.tracker.host}: ${o.why}`,
            })),
          ]}
        />
      )}
    </div>
  );
}

function words(text: string): string[] {
  return text.split(/[\s,]+/).filter(Boolean);
}
