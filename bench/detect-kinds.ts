import { gzipSync } from 'node:zlib';
import { chance, train, type Example } from '../src/core/holdings/learned.ts';
import { findRecords, RosterBuilder, ROSTER_RULES } from '../src/core/holdings/roster.ts';
import { extract } from '../src/server/holdings/extract/extract.ts';
import { figure } from './figure.ts';

const MB = 1e6;
const seconds = (begun: number) => (performance.now() - begun) / 1000;

/** A roster of a million rows: how long it takes to build, what it holds, how many values a second it is asked. */
export function benchRoster(): void {
  const rows = 1_000_000;
  const key = new Uint8Array(16).fill(7);
  const begun = performance.now();
  const builder = new RosterBuilder(
    {
      id: 'club',
      name: 'Club',
      version: 1,
      headings: ['number', 'name'],
      columns: { keys: [0], corroborating: [1] },
      expected: rows,
    },
    key,
  );
  for (let i = 0; i < rows; i++) builder.add([String(10_000_000 + i * 7), `Member ${i}`]);
  const roster = builder.done();
  figure('detect', 'roster_build_s', seconds(begun), 's');
  const bytes =
    roster.high.byteLength +
    roster.low.byteLength +
    roster.rowOf.byteLength +
    roster.columnOf.byteLength +
    roster.beside.byteLength;
  figure('detect', 'roster_mb', bytes / MB, 'MB');
  const random = chance(1);
  const text = Array.from({ length: 100_000 }, () =>
    String(10_000_000 + Math.floor(random() * 14_000_000)),
  ).join(' ');
  const asked = performance.now();
  const { findings } = findRecords(roster, ROSTER_RULES, key, { text, segments: [] });
  figure('detect', 'roster_lookups_per_s', 100_000 / seconds(asked), 'lookups/s');
  figure('detect', 'roster_found', findings.length, 'findings');
}

/** Five hundred examples and as many counter-examples of three hundred words. */
export function benchTraining(): void {
  const random = chance(2);
  const words = Array.from({ length: 4000 }, (_, i) => `word${i.toString(36)}`);
  const examples: Example[] = Array.from({ length: 1000 }, (_, n) => ({
    name: String(n),
    positive: n < 500,
    text: Array.from(
      { length: 300 },
      () => words[Math.floor((n < 500 ? random() : random() * 0.8 + 0.2) * 4000)],
    ).join(' '),
  }));
  const begun = performance.now();
  const { judgement } = train(examples, 1, { falseAlarm: 1, miss: 1 });
  figure('detect', 'train_500_500_s', seconds(begun), 's');
  figure('detect', 'train_f1', judgement.f1.value, 'share');
}

/** Megabytes a second of files as they lie on a disk. */
export async function benchExtraction(): Promise<void> {
  const line = 'Anna Sørensen;010180-1234;anna@x.example;Halmsund;The ship leaves the quay at noon\n';
  const csv = Buffer.from(`name;cpr;email;town;note\n${line.repeat(60_000)}`);
  const files: Readonly<Record<string, Buffer>> = {
    csv,
    txt: Buffer.from(line.repeat(60_000)),
    json: Buffer.from(
      JSON.stringify(
        Array.from({ length: 40_000 }, (_, i) => ({
          id: i,
          name: 'Anna Sørensen',
          note: 'The ship leaves the quay at noon',
        })),
      ),
    ),
    xml: Buffer.from(
      `<all>${'<person><name>Anna</name><note>The ship leaves the quay</note></person>'.repeat(40_000)}</all>`,
    ),
    html: Buffer.from(
      `<html><body>${'<p>The ship <b>leaves</b> the quay at noon</p>'.repeat(40_000)}</body></html>`,
    ),
    gz: gzipSync(csv),
  };
  for (const [kind, bytes] of Object.entries(files)) {
    const begun = performance.now();
    await extract(`file.${kind === 'gz' ? 'csv.gz' : kind}`, bytes);
    figure('detect', `extract_${kind}_mb_per_s`, bytes.length / MB / seconds(begun), 'MB/s');
  }
}
