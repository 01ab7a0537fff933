import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import type { Stage } from '../../core/rules/rule.ts';
import type { Page } from '../../server/store/page.ts';
import { Button } from '../parts/Button.tsx';
import { CopyText } from '../parts/CopyText.tsx';
import { DataTable } from '../parts/DataTable.tsx';
import { Dialog } from '../parts/Dialog.tsx';
import { Explanation } from '../parts/Explanation.tsx';
import { Field } from '../parts/Field.tsx';
import { Figure } from '../parts/Figure.tsx';
import { IntervalChart } from '../parts/IntervalChart.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { StageBar } from '../rules/StageBar.tsx';
import { StageTag } from '../parts/StageTag.tsx';
import { Empty, Failure, Loading, ProgressBar } from '../parts/states.tsx';
import { Tabs } from '../parts/Tabs.tsx';
import type { Period } from '../parts/ValueEditors.tsx';
import { RequestError } from './request.ts';
import { ScrollContext } from './scroll-context.ts';
import { ShownParts } from './ShownParts.tsx';
import { Toasts } from './Toasts.tsx';
import { tell } from './toasts.ts';

const SINCE = '2026-11-09T09:00:00Z';
const STAGES: readonly Stage[] = [
  { state: 'draft' },
  { state: 'rehearsing', version: 2, since: SINCE, over: { version: 1, since: SINCE } },
  { state: 'in force', version: 2, since: SINCE },
  { state: 'paused', version: 2, since: SINCE },
  { state: 'retired', version: 2, since: SINCE },
];
const PLACES = [
  'Port share',
  'Terminal mailboxes',
  'Crew share',
  'Booking database',
  'Loyalty club',
  'Freight invoices',
  'Ship Wi-Fi',
  'Car deck index',
].map((w) => ({ value: w, words: w }));
const ROWS = Array.from({ length: 5000 }, (_, i) => ({
  id: i,
  name: `manifest-${String(i).padStart(4, '0')}.xlsx`,
  days: (i * 37) % 400,
}));

async function loadRows(after: string | undefined): Promise<Page<(typeof ROWS)[number]>> {
  const from = Number(after ?? 0);
  return { rows: ROWS.slice(from, from + 100), next: from + 100 < ROWS.length ? String(from + 100) : null };
}

/** Every shared component in each of its states, for those who build with them. */
export function DeskParts() {
  const [client] = useState(() => new QueryClient());
  const [choice, setChoice] = useState('Port share');
  const [many, setMany] = useState<readonly string[]>(['Port share']);
  const [days, setDays] = useState(90);
  const [day, setDay] = useState('2026-11-20');
  const [period, setPeriod] = useState<Period>({ count: 2, unit: 'years' });
  const [text, setText] = useState('boarding manifests');
  const [tab, setTab] = useState<'a' | 'b'>('a');
  const scroll = useRef<HTMLDivElement>(null);
  const [dialog, setDialog] = useState(false);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  return (
    <QueryClientProvider client={client}>
      <main
        style={{
          padding: 24,
          maxWidth: 900,
          margin: '0 auto',
          display: 'grid',
          gap: 20,
          background: 'var(--paper)',
        }}
      >
        <h1>Parts of the desk</h1>
        <div>
          <Button kind="primary">Put it in force</Button> <Button>Leave it</Button>{' '}
          <Button kind="quiet">History</Button> <Button busy>Sweeping</Button>{' '}
          <Button disabled>Not now</Button>
        </div>
        <div>
          {STAGES.map((s) => (
            <span key={s.state}>
              <StageTag state={s.state} />{' '}
            </span>
          ))}
        </div>
        {STAGES.map((s) => (
          <StageBar
            key={s.state}
            stage={s}
            means={{
              draft: 'edits touch nothing',
              rehearsing: 'counted, nothing removed',
              inForce: 'acts on every item',
              stopped: 'acts on nothing',
            }}
            acts={[{ act: 'rehearse', words: 'Rehearse it' }]}
            onAct={() => {}}
            busy={false}
          />
        ))}
        <div>
          <Sentence label="What">
            Keep{' '}
            <Slot label="Kind" words={text} edit={{ kind: 'text', most: 60, value: text, set: setText }} />{' '}
            found in{' '}
            <Slot
              label="Places"
              words={many.join(', ')}
              edit={{ kind: 'many', options: PLACES, value: many, set: setMany }}
              error={many.length ? undefined : 'Choose at least one place'}
            />
          </Sentence>
          <Sentence label="How long">
            for{' '}
            <Slot
              label="Days"
              words={`${days} days`}
              edit={{ kind: 'number', unit: 'days', least: 1, most: 3650, value: days, set: setDays }}
            />{' '}
            or{' '}
            <Slot
              label="Period"
              words={`${period.count} ${period.unit}`}
              edit={{ kind: 'period', value: period, set: setPeriod }}
            />{' '}
            from <Slot label="Day" words={day} edit={{ kind: 'date', value: day, set: setDay }} />, in{' '}
            <Slot
              label="Place"
              words={choice}
              edit={{ kind: 'choice', options: PLACES, value: choice, set: setChoice }}
            />
          </Sentence>
        </div>
        <Tabs
          label="Tabs"
          tabs={[
            { id: 'a', name: 'Trackers', count: 41 },
            { id: 'b', name: 'Notice' },
          ]}
          chosen={tab}
          onChoose={setTab}
        />
        <div id="tabpanel" role="tabpanel">
          {tab === 'a' ? 'First' : 'Second'}
        </div>
        <Field label="Address" hint="The page a visitor begins on.">
          <input />
        </Field>
        <Field label="Address" error="This is not the address of a website.">
          <input defaultValue="not an address" />
        </Field>
        <ProgressBar label="Survey" share={0.62} words="62%, 4 min left" />
        <ProgressBar label="Survey" share={null} words="counting" />
        <Figure value="61.4%" words="allowed something" />
        <IntervalChart
          title="By region"
          rows={[
            { key: 'DK', name: 'Denmark', share: 0.58, low: 0.55, high: 0.61, count: '1,200' },
            { key: 'SE', name: 'Sweden', share: 0.55, low: 0.4, high: 0.69, count: '48' },
          ]}
        />
        <Explanation
          title="Why Measurement is proposed"
          grounds={[
            { mark: '✓', words: '“hit” in its name', figure: '+2.4' },
            { mark: '◆', words: 'It recognises a visitor', figure: '−1.2' },
            { mark: '○', words: 'Nobody decided yet' },
          ]}
        />
        <CopyText label="Line" text={'<script src="https://…"></script>'} />
        <Empty title="Nothing here yet" action={<Button kind="primary">Take in a site</Button>}>
          Press New to begin.
        </Empty>
        <Failure
          error={
            new RequestError(500, {
              error: 'Something went wrong on our side.',
              fields: [],
              kept: 'Nothing of this was changed.',
              requestId: '0d1c…',
            })
          }
          onRetry={() => {}}
        />
        <Loading what="sites" />
        <div>
          <Button onClick={() => setDialog(true)}>Open a dialog</Button>{' '}
          <Button onClick={() => tell('Purpose decided.', { undo: () => tell('Taken back.') })}>
            Tell with undo
          </Button>{' '}
          <Button onClick={() => tell('That did not work.', { kind: 'trouble' })}>Tell trouble</Button>
        </div>
        {dialog && (
          <Dialog title="A dialog" onClose={() => setDialog(false)}>
            <p>Esc closes it.</p>
          </Dialog>
        )}
        <div ref={scroll} style={{ height: 320, overflow: 'auto' }}>
          <ScrollContext.Provider value={scroll}>
            <DataTable
              label="Manifests"
              name="parts"
              columns={[
                { key: 'name', title: 'Item', sorts: true, cell: (r) => r.name },
                { key: 'days', title: 'Days over', align: 'right', optional: true, cell: (r) => r.days },
              ]}
              queryKey={['parts']}
              load={loadRows}
              rowKey={(r) => String(r.id)}
              rowName={(r) => r.name}
              selected={selected}
              onSelect={setSelected}
              bulk={<Button>Hold them</Button>}
              empty={null}
            />
          </ScrollContext.Provider>
        </div>
        <ShownParts />
      </main>
      <Toasts />
    </QueryClientProvider>
  );
}
