import type { Act, Stage } from '../../core/rules/rule.ts';
import { dayWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import css from './StageBar.module.css';

interface StageBarProps {
  readonly stage: Stage;
  /** What being in each state means for this rule. */
  readonly means: {
    readonly draft: string;
    readonly rehearsing: string;
    readonly inForce: string;
    /** Paused or retired. */
    readonly stopped: string;
  };
  /** Acts that can be done from here, told as what will happen. */
  readonly acts: readonly { readonly act: Act['act']; readonly words: string; readonly primary?: boolean }[];
  readonly onAct: (act: Act['act']) => void;
  readonly busy: boolean;
}

/** Where a rule stands between draft, rehearsal and force, and what can be done next. */
export function StageBar({ stage, means, acts, onAct, busy }: StageBarProps) {
  const standing = stage.state === 'rehearsing' ? stage.over : stage.state === 'in force' ? stage : null;
  const steps = [
    { key: 'draft', name: 'Draft', means: means.draft, on: stage.state === 'draft' },
    {
      key: 'rehearsing',
      name:
        stage.state === 'rehearsing'
          ? `Version ${stage.version} rehearsing since ${dayWords(stage.since)}`
          : 'Rehearsing',
      means: means.rehearsing,
      on: stage.state === 'rehearsing',
    },
    stage.state === 'paused' || stage.state === 'retired'
      ? {
          key: stage.state,
          name:
            stage.state === 'paused'
              ? `Paused since ${dayWords(stage.since)}`
              : `Retired ${dayWords(stage.since)}`,
          means: means.stopped,
          on: true,
        }
      : {
          key: 'in force',
          name: standing
            ? `Version ${standing.version} in force since ${dayWords(standing.since)}`
            : 'In force',
          means: means.inForce,
          on: standing !== null,
        },
  ];
  return (
    <div className={css['wrap']}>
      <ol className={css['bar']} aria-label="State">
        {steps.map((s) => (
          <li key={s.key} data-step={s.key} aria-current={s.on ? 'step' : undefined}>
            <b>{s.name}</b>
            <span>{s.means}</span>
          </li>
        ))}
      </ol>
      <div className={css['acts']}>
        {acts.map((a) => (
          <Button
            key={a.act}
            kind={a.primary ? 'primary' : 'plain'}
            disabled={busy}
            onClick={() => onAct(a.act)}
          >
            {a.words}
          </Button>
        ))}
      </div>
    </div>
  );
}
