import { useQueryClient } from '@tanstack/react-query';
import { tagEntry } from '../../../core/websites/gate/tag-entry.ts';
import { TagSystem } from '../../../core/websites/gate/tag-system.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import type { ListedTagSystem } from '../../../server/websites/gate/tag-systems.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { Explanation } from '../../parts/Explanation.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { TakeOut } from '../../parts/TakeOut.tsx';
import shared from '../websites.module.css';
import { useTagSystems } from './use-tags.ts';
import css from './tags.module.css';

/** A mapping to begin with. */
const FIRST: TagSystem = {
  name: 'A tag system',
  queue: 'tags',
  names: {},
  on: 'yes',
  off: 'no',
  start: '{"may": "$state", "waitMs": "$wait", "region": "$region"}',
  change: '{"may": "$state"}',
  waitMs: 500,
};

/** How tag systems that adapt themselves are told the state, in their own words, on every site. */
export function TagSystems({ purposes }: { readonly purposes: readonly Purpose[] }) {
  const fixed = !useMay('websites.edit');
  const systems = useTagSystems().data ?? [];
  const client = useQueryClient();
  const done = () => client.invalidateQueries({ queryKey: ['tag-systems'] });
  const save = async (work: () => Promise<unknown>, words: string) => {
    try {
      await work();
      tell(words);
    } catch (e) {
      tellFailure(e);
    } finally {
      await done();
    }
  };
  const add = () => {
    const names = Object.fromEntries(purposes.filter((p) => !p.essential).map((p) => [p.code, [p.code]]));
    const used = new Set(systems.map((s) => s.content.name));
    const name = [FIRST.name, ...Array.from({ length: 50 }, (_, i) => `${FIRST.name} ${i + 2}`)].find(
      (n) => !used.has(n),
    );
    void save(
      () => request('POST', '/api/websites/tag-systems', { system: { ...FIRST, name, names } }),
      'Mapped. Give it the names and values that it knows.',
    );
  };
  return (
    <section className={css['systems']}>
      <h2 className={shared['h2']}>Tag systems that adapt themselves</h2>
      <p className={shared['dim']}>
        Each is told the state before any other script runs, and again when it changes, on every site with a
        notice.
      </p>
      {systems.map((s) => (
        <System
          key={s.id}
          {...{ purposes, fixed }}
          system={s}
          put={(system) =>
            void save(
              () => request('PUT', `/api/websites/tag-systems/${s.id}`, { system, revision: s.revision }),
              `${system.name} is told so within seconds.`,
            )
          }
          takeOut={() =>
            void save(
              () => request('DELETE', `/api/websites/tag-systems/${s.id}`),
              `${s.content.name} is told nothing any more.`,
            )
          }
        />
      ))}
      {!fixed && <Button onClick={add}>Map a tag system</Button>}
    </section>
  );
}

function System({
  system,
  purposes,
  fixed,
  put,
  takeOut,
}: {
  readonly system: ListedTagSystem;
  readonly purposes: readonly Purpose[];
  readonly fixed: boolean;
  readonly put: (system: TagSystem) => void;
  readonly takeOut: () => void;
}) {
  const { content } = system;
  const text = (
    key: 'name' | 'queue' | 'on' | 'off' | 'start' | 'change',
    label: string,
    most: number,
    code = true,
  ) => (
    <Slot
      label={`${label} of ${content.name}`}
      words={content[key]}
      code={code}
      fixed={fixed}
      edit={{
        kind: 'text',
        ...{ most, value: content[key] },
        long: key === 'start' || key === 'change',
        check: (t) => TagSystem.shape[key].safeParse(t).error?.issues[0]?.message ?? '',
        set: (t) => put({ ...content, [key]: t }),
      }}
    />
  );
  const asked = purposes.filter((p) => !p.essential);
  const tried = [
    { words: 'before an answer', moment: 'start', allowed: [], answered: false },
    { words: 'once all is allowed', moment: 'change', allowed: asked.map((p) => p.code), answered: true },
    { words: 'after a refusal', moment: 'change', allowed: [], answered: true },
  ] as const;
  return (
    <div className={css['system']}>
      <Sentence label={content.name}>
        {text('name', 'Name', 60, false)} reads {text('queue', 'Queue', 100)}, where{' '}
        {asked.map((p, i) => (
          <span key={p.code}>
            {i > 0 && ', '}
            {p.name} is{' '}
            <Slot
              label={`Names of ${p.name} in ${content.name}`}
              words={content.names[p.code]?.join(', ') || 'not told'}
              code
              fixed={fixed}
              edit={{
                kind: 'text',
                most: 500,
                value: content.names[p.code]?.join(' ') ?? '',
                hint: 'The names that the system knows, with a space between them',
                set: (t) =>
                  put({
                    ...content,
                    names: { ...content.names, [p.code]: t.split(/[\s,]+/).filter(Boolean) },
                  }),
              }}
            />
          </span>
        ))}
        , {text('on', 'Value for allowed', 60)} where it is allowed and{' '}
        {text('off', 'Value for not allowed', 60)} where not. At the start it gets{' '}
        {text('start', 'Entry at the start', 1000)} and may wait{' '}
        <Slot
          label={`Wait of ${content.name}`}
          words={`${content.waitMs} ms`}
          fixed={fixed}
          edit={{
            kind: 'number',
            ...{ unit: 'ms', least: 0, most: 3000, value: content.waitMs },
            set: (waitMs) => put({ ...content, waitMs }),
          }}
        />{' '}
        for an answer; on a change it gets {text('change', 'Entry on a change', 1000)}.{' '}
        {!fixed && <TakeOut what={content.name} act={takeOut} />}
      </Sentence>
      <Explanation
        title="What it would be told"
        grounds={tried.map(({ words, moment, ...state }) => ({
          mark: '·' as const,
          words: `${words}: ${JSON.stringify(tagEntry(content, moment, { ...state, region: 'DK' }))}`,
        }))}
      />
    </div>
  );
}
