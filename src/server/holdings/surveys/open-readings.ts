import type { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import type { Context } from '../../context.ts';
import type { Stepping } from '../../runs/run-kind.ts';
import type { Connector } from '../connectors/connector.ts';
import type { Shard } from '../connectors/walk.ts';
import { connectSource, type Source } from '../sources/sources.ts';
import { ReaderPlace, SurveyReader, takeBatches, type Batch } from './survey-reader.ts';

/** A source that is being read: the connection and where it stands, kept from one step to the next. */
export interface OpenReading {
  readonly connector: Connector;
  /** Batches with so many names together; none at the end. */
  take(names: number): Promise<readonly Batch[]>;
  /** What it reads with, by a name of the reader's choice; made once, and the same to the end. */
  kept<T>(name: string, make: () => Promise<T>): Promise<T>;
  /** Where it stands once the step is kept. */
  stands(place: ReaderPlace | null): void;
  close(): Promise<void>;
}

/** What nobody went on with for so long is closed. */
const IDLE_MS = 60_000;

const open = new Map<
  string,
  {
    readonly reading: OpenReading;
    stands: string;
    idle: NodeJS.Timeout | undefined;
    readonly ended: AbortController;
  }
>();

/** Goes on where the last step of this part stopped, in this process or another. */
export async function openReading<P extends SurveyContent>(
  ctx: Context,
  source: Source,
  { run, part, plan, place }: Stepping<P>,
  shard: Shard | undefined,
): Promise<OpenReading> {
  const key = `${run.id} ${part}`;
  const known = open.get(key);
  if (known?.stands === JSON.stringify(place)) {
    clearTimeout(known.idle);
    return known.reading;
  }
  await known?.reading.close();
  const connector = await connectSource(ctx, source);
  const ended = new AbortController();
  const from = place === null ? null : ReaderPlace.parse(place);
  const reader = new SurveyReader(connector, plan, from, ended.signal, shard);
  const kept = new Map<string, Promise<unknown>>();
  const reading: OpenReading = {
    connector,
    take: (names) => takeBatches(reader, names),
    kept(name, make) {
      const made = (kept.get(name) as ReturnType<typeof make> | undefined) ?? make();
      kept.set(name, made);
      return made;
    },
    stands(to) {
      const of = open.get(key);
      if (!of) return;
      of.stands = JSON.stringify(to);
      of.idle = setTimeout(() => void reading.close(), IDLE_MS);
      of.idle.unref();
    },
    async close() {
      const of = open.get(key);
      clearTimeout(of?.idle);
      open.delete(key);
      ended.abort();
      await connector.close();
    },
  };
  open.set(key, { reading, stands: JSON.stringify(place), idle: undefined, ended });
  return reading;
}

/** Closes what this process has open; a survey goes on from where it was kept. */
export async function closeReadings(): Promise<void> {
  await Promise.all([...open.values()].map(({ reading }) => reading.close()));
}
