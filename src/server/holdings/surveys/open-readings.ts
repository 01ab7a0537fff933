import type { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import type { Context } from '../../context.ts';
import type { Stepping } from '../../runs/run-kind.ts';
import type { Connector } from '../connectors/connector.ts';
import type { Shard } from '../connectors/walk.ts';
import { connectSource, type Source } from '../sources/sources.ts';
import type { ReadingSetting } from './reading-setting.ts';
import { ReaderPlace, SurveyReader, type Batch } from './survey-reader.ts';

/** A source that is being read: the connection and where it stands, kept from one step to the next. */
export interface OpenReading {
  readonly connector: Connector;
  /** Batches with so many names together; none at the end. */
  take(names: number): Promise<readonly Batch[]>;
  /** What it reads with, made once. */
  setting(make: () => Promise<ReadingSetting>): Promise<ReadingSetting>;
  partSetting(name: string, make: () => Promise<ReadingSetting>): Promise<ReadingSetting>;
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
  let setting: Promise<ReadingSetting> | undefined;
  const parts = new Map<string, Promise<ReadingSetting>>();
  const reading: OpenReading = {
    connector,
    async take(names) {
      const batches: Batch[] = [];
      for (let n = 0; n < names && batches.length < 200;) {
        const batch = await reader.next(names - n);
        if (!batch) break;
        // What is read goes on from the end of a batch, so that a place is not begun that does not fit.
        batches.push(batch);
        n += batch.names.length;
      }
      return batches;
    },
    setting: (make) => (setting ??= make()),
    partSetting(name, make) {
      const made = parts.get(name) ?? make();
      parts.set(name, made);
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
