import type { ReactNode } from 'react';
import type { LinkedFacts, Links } from '../../../core/cases/linked/linked.ts';
import { reachWords } from '../../../core/cases/vendors/vendor-tier.ts';
import type { Need } from '../../../core/cases/needs.ts';
import type { DossierStep } from '../../../server/cases/dossiers/dossiers.ts';
import { countryWords, numberWords, whenWords } from '../../desk/words.ts';
import type { Option } from '../../parts/ChoiceEditor.tsx';
import { CheckList } from '../../parts/CheckList.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot, type SlotKind } from '../../parts/Slot.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import css from '../cases.module.css';

/** Slots of one who may edit, or of one who may not. */
export function slotsFor(fixed: boolean) {
  return (label: string, words: ReactNode, edit: SlotKind) => (
    <Slot label={label} words={words} fixed={fixed} edit={edit} />
  );
}

export const optionsOf = (words: Readonly<Record<string, string>>): readonly Option[] =>
  Object.entries(words).map(([value, text]) => ({ value, words: text }));

export function linesOf(text: string): string[] {
  return text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
}

interface LinkOptions {
  readonly activities: readonly Option[];
  readonly systems: readonly Option[];
  readonly sites: readonly Option[];
}

/** What of the program something is about, and what that comes to now. */
export function LinksSentence({
  links,
  facts,
  options,
  fixed,
  set,
}: {
  readonly links: Links;
  readonly facts: LinkedFacts;
  readonly options: LinkOptions;
  readonly fixed: boolean;
  readonly set: (links: Links) => void;
}) {
  const many = (key: keyof Links, label: string, none: string) => (
    <Slot
      label={label}
      fixed={fixed}
      words={
        links[key]
          .map((id) => options[key].find((o) => o.value === id)?.words ?? 'one that is gone')
          .join(', ') || none
      }
      edit={{
        kind: 'many',
        value: links[key],
        options: options[key],
        set: (chosen) => set({ ...links, [key]: [...chosen] }),
      }}
    />
  );
  return (
    <>
      <Sentence label="Linked to">
        The activities {many('activities', 'Activities', 'none yet')}, the systems{' '}
        {many('systems', 'Systems', 'none')}, and the sites {many('sites', 'Sites', 'none')}.
      </Sentence>
      <FactsLine facts={facts} />
    </>
  );
}

function FactsLine({ facts }: { readonly facts: LinkedFacts }) {
  const hosts = [...new Set(facts.trackers.map((t) => t.host))];
  const parts = [
    facts.data.length > 0 &&
      `data: ${facts.data.map((d) => `${d.name}${d.recorded ? '' : ' (found, in no record)'}`).join(', ')}`,
    facts.people.length > 0 && `people: ${facts.people.join(', ')}`,
    facts.count !== null && `${numberWords(facts.count)} different people found`,
    facts.recipients.length > 0 &&
      `given to ${facts.recipients.map((r) => `${r.name}${r.country ? ` in ${countryWords(r.country)}` : ''}`).join(', ')}`,
    facts.reach && reachWords(facts.reach),
    facts.vendors.length > 0 && `vendors: ${facts.vendors.map((v) => v.name).join(', ')}`,
    facts.machines.length > 0 && `AI systems: ${facts.machines.map((m) => m.name).join(', ')}`,
    hosts.length > 0 &&
      `third parties on pages: ${hosts.slice(0, 8).join(', ')}${hosts.length > 8 ? ` and ${hosts.length - 8} more` : ''}`,
  ].filter(Boolean);
  return parts.length === 0 ? null : <p className={css['note']}>Which comes to {parts.join('; ')}.</p>;
}

const FIRST_NEEDS = 6;

function needLine(n: Need, i: number) {
  return <li key={i}>{n.wrong ? <span className={css['mark']}>◆ {n.words}</span> : `○ ${n.words}`}</li>;
}

/** What has to happen, the first thing first. */
export function NeedsSection({
  needs,
  title = 'What comes next',
}: {
  readonly needs: readonly Need[];
  readonly title?: string;
}) {
  return (
    <SoundingsSection title={title}>
      {needs.length === 0 ? (
        <p>✓ Nothing.</p>
      ) : (
        <>
          <CheckList label={title}>{needs.slice(0, FIRST_NEEDS).map(needLine)}</CheckList>
          {needs.length > FIRST_NEEDS && (
            <details>
              <summary>and {needs.length - FIRST_NEEDS} more</summary>
              <CheckList label="What comes after">{needs.slice(FIRST_NEEDS).map(needLine)}</CheckList>
            </details>
          )}
        </>
      )}
    </SoundingsSection>
  );
}

/** The answer at the head of a sheet: its state, and the first thing to do. */
export function AnswerLine({ state, needs }: { readonly state: string; readonly needs: readonly Need[] }) {
  const [first] = needs;
  return (
    <p className={css['answer']}>
      {state}
      {first ? (
        first.wrong ? (
          <span className={css['mark']}>: ◆ {first.words}</span>
        ) : (
          `: ${first.words}`
        )
      ) : (
        ' ✓ nothing to do'
      )}
      {first?.words.endsWith('?') ? '' : '.'}
    </p>
  );
}

/** What happened to it, the last first. */
export function StepList({ steps }: { readonly steps: readonly DossierStep[] }) {
  return (
    <>
      <h2 className={css['heading']}>What happened</h2>
      <ol className={css['day']} aria-label="What happened">
        {steps.map((s, n) => (
          <li key={n}>
            <time dateTime={s.at}>{whenWords(s.at)}</time> <b>{s.step}</b>
            {s.words && `: ${s.words}`}
            {s.by && <span className={css['place']}> · {s.by}</span>}
          </li>
        ))}
      </ol>
    </>
  );
}
