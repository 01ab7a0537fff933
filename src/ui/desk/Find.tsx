import { useQuery } from '@tanstack/react-query';
import type * as findApi from '../../pages/api/find.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { useState } from 'react';
import { may } from '../../core/accounts/authority.ts';
import { GUIDE_PAGES } from '../../core/desk/guide.ts';
import { AREAS } from '../areas.ts';
import { Dialog } from '../parts/Dialog.tsx';
import { Segments, type Segment } from '../parts/Segments.tsx';
import { useAccount } from './account-context.ts';
import { go } from './location.ts';
import { queryString, request } from './request.ts';
import { setTheme } from './theme.ts';
import css from './Find.module.css';

interface Choice {
  readonly id: string;
  readonly kind: string;
  readonly words: string;
  readonly detail: string;
  readonly act: () => void;
}

/** Finds objects by name and commands by what they do. Arrows choose, Enter goes. */
export function Find({ onClose }: { readonly onClose: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [kind, setKind] = useState('');
  const commands = useCommands();
  const finds = useFinds();
  const trimmed = text.trim();
  const { data } = useQuery({
    queryKey: ['find', trimmed],
    queryFn: () => request<AnswerOf<typeof findApi.GET>>('GET', `/api/find${queryString({ text: trimmed })}`),
    enabled: trimmed !== '',
    placeholderData: (before) => before,
  });
  const matching = commands.filter((c) =>
    `${c.words} ${c.detail}`.toLowerCase().includes(trimmed.toLowerCase()),
  );
  const found = (trimmed ? (data ?? []) : []).map((f): Choice => ({
    id: f.link,
    kind: f.kind,
    words: f.words,
    detail: f.detail,
    act: () => go(f.link),
  }));
  const kinds = countKinds(found);
  const chosenKind = kinds.some((k) => k.value === kind) ? kind : '';
  const choices = chosenKind ? found.filter((f) => f.kind === chosenKind) : [...found, ...matching];
  const chosen = Math.min(at, choices.length - 1);
  const take = (choice: Choice | undefined) => {
    if (!choice) return;
    onClose();
    choice.act();
  };
  return (
    <Dialog title="Find anything" onClose={onClose} bare>
      <input
        className={css['input']}
        autoFocus
        role="combobox"
        aria-expanded
        aria-controls="find-list"
        aria-activedescendant={choices[chosen] ? `find-${chosen}` : undefined}
        aria-label="Find anything"
        placeholder={`Find ${finds}`}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(choices.length - 1, chosen + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
          else if (e.key === 'Enter') take(choices[chosen]);
          else return;
          e.preventDefault();
        }}
      />
      {kinds.length > 1 && (
        <div className={css['kinds']}>
          <Segments
            label="Of which kind"
            value={chosenKind}
            options={[{ value: '', words: 'All' }, ...kinds]}
            onChange={(k) => {
              setKind(k);
              setAt(0);
            }}
          />
        </div>
      )}
      <ul id="find-list" role="listbox" aria-label="Found" className={css['list']}>
        {choices.map((c, i) => (
          <li
            key={`${c.kind} ${c.id}`}
            id={`find-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={css['choice']}
            onClick={() => take(c)}
          >
            <span className={css['words']}>{c.words}</span>
            <span className={css['detail']}>{c.detail}</span>
            <span className={css['kind']}>{c.kind}</span>
          </li>
        ))}
      </ul>
      {choices.length === 0 && (
        <p className={css['none']}>
          Nothing is called “{trimmed}”. Try a host, the name of a cookie, or a command.
        </p>
      )}
    </Dialog>
  );
}

/** The kinds of what was found, the most first, with how many of each. */
function countKinds(found: readonly Choice[]): readonly Segment[] {
  const counts = new Map<string, number>();
  for (const { kind } of found) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .slice(0, MOST_KINDS)
    .map(([value, count]) => ({ value, words: value, count }));
}

const MOST_KINDS = 6;

/** `a site, a tracker or a command`: what this account may find. */
function useFinds(): string {
  const account = useAccount();
  const finds = AREAS.filter((a) => may(account, a.action)).flatMap((a) => a.finds ?? []);
  return new Intl.ListFormat('en', { type: 'disjunction' }).format([...finds, 'a command']);
}

function useCommands(): readonly Choice[] {
  const account = useAccount();
  const command = (words: string, detail: string, act: () => void): Choice => ({
    id: words,
    kind: 'command',
    words,
    detail,
    act,
  });
  return [
    ...AREAS.filter((a) => a.inBar !== false && may(account, a.action)).map((a) =>
      command(`Go to ${a.name}`, '', () => go(`/${a.area}`)),
    ),
    ...AREAS.flatMap((a) =>
      (a.commands ?? [])
        .filter((c) => may(account, c.action))
        .map((c) => command(c.words, a.name, () => go(c.link))),
    ),
    command('Your sessions', 'Account', () => go('/account')),
    ...GUIDE_PAGES.map((p) => ({
      ...command(p.name, 'Guide', () => go(`/guide/${p.id}`)),
      ...{ id: `/guide/${p.id}`, kind: 'guide' },
    })),
    command('Light colours', 'Theme', () => setTheme('light')),
    command('Dark colours', 'Theme', () => setTheme('dark')),
    command('Colours of the system', 'Theme', () => setTheme('system')),
    command(
      'Sign out',
      'Account',
      () => void request('POST', '/api/accounts/sign-out').finally(() => location.assign('/sign-in')),
    ),
  ];
}
