import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readSync, rmSync, statSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Engine } from '../src/core/holdings/detection/engine/engine.ts';
import { PatternDetector } from '../src/core/holdings/detection/detector/detector.ts';
import { builtInDetectors } from '../src/core/holdings/detection/library/library.ts';
import { BLOCK, TextStream } from '../src/core/holdings/detection/engine/text-stream.ts';
import { ByteStream } from '../src/server/holdings/detection/threads/byte-stream.ts';
import { benchExtraction, benchRoster, benchTraining } from './detect-kinds.ts';
import { figure } from './figure.ts';

const MB = 1e6;
const SIZE = Number(process.env['BENCH_MB'] ?? 64) * MB;

/** Thirty patterns as a general search is given them: the shapes of what the built-in detectors look for. */
const PATTERNS = [
  '[A-Za-z0-9._%+-]+@[A-Za-z0-9.-]+\\.[A-Za-z]{2,}',
  '\\b\\d{6}-\\d{4}\\b',
  '\\b(?:19|20)?\\d{6}[-+]\\d{4}\\b',
  '\\b[A-Z]{2}\\d{2}(?: ?[A-Z0-9]{4}){2,7}\\b',
  '\\b\\d{4}[ -]\\d{4}[ -]\\d{4}[ -]\\d{4}\\b',
  '\\b3[47]\\d{13}\\b',
  '\\b(?:\\d{1,3}\\.){3}\\d{1,3}\\b',
  '\\b[0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){5}\\b',
  '\\+\\d{1,3}[ \\d]{7,14}\\d\\b',
  '\\b\\d{2} \\d{2} \\d{2} \\d{2}\\b',
  '\\b\\d{3}-\\d{2}-\\d{4}\\b',
  '\\b[A-CEGHJ-PR-TW-Z]{2} ?\\d{2} ?\\d{2} ?\\d{2} ?[A-D]\\b',
  '\\b\\d{2} \\d{3} \\d{3} \\d{3}\\b',
  '\\b\\d{11}\\b',
  '\\b\\d{6}[-+A]\\d{3}[0-9A-Z]\\b',
  '\\b756\\.\\d{4}\\.\\d{4}\\.\\d{2}\\b',
  '\\b\\d{8}[A-Z]\\b',
  '\\b[XYZ]\\d{7}[A-Z]\\b',
  '\\b[A-Z]{6}\\d{2}[A-Z]\\d{2}[A-Z]\\d{3}[A-Z]\\b',
  '\\b\\d{7}[A-W]\\b',
  '\\b\\d{6}/\\d{4}\\b',
  '\\b\\d{3}\\.\\d{3}\\.\\d{3}-\\d{2}\\b',
  '\\b\\d{3} \\d{3} \\d{4}\\b',
  '\\bAKIA[A-Z2-7]{16}\\b',
  '\\bgh[pousr]_[A-Za-z0-9]{36}\\b',
  '-----BEGIN [A-Z ]*PRIVATE KEY-----',
  '\\beyJ[A-Za-z0-9_-]+\\.eyJ[A-Za-z0-9_-]+',
  '\\b\\d{4}-\\d{2}-\\d{2}\\b',
  '\\b\\d{1,2}[./]\\d{1,2}[./]\\d{4}\\b',
  '\\b[A-Z]{2}\\d{2} ?[A-Z]{3}\\b',
];

const WORDS = (
  'the of and to in that was for on with as his they be at one have this from or had by hot word but what some we can out other were all there when up use ' +
  'your how said an each she which do their time if will way about many then them write would like so these her long make thing see him two has look more day ' +
  'could go come did number sound no most people my over know water than call first who may down side been now find any new work part take get place made live ' +
  'where after back little only round man year came show every good me give our under name very through just form sentence great think say help low line differ ' +
  'turn cause much mean before move right boy old too same tell does set three want air well also play small end put home read hand port large spell add even ' +
  'land here must big high such follow act why ask men change went light kind off need house picture try us again animal point mother world near build self earth ' +
  'father head stand own page should country found answer school grow study still learn plant cover food sun four between state keep eye never last let thought ' +
  'city tree cross farm hard start might story saw far sea draw left late run while press close night real life few north open seem together next white children ' +
  'begin got walk example ease paper group always music those both mark often letter until mile river car feet care second book carry took science eat room friend'
).split(' ');
const RECORDS = [
  'Write to tove.lindqvist@brindlestrait.example today.',
  'CPR 010180-1234 was given.',
  'IBAN GB82 WEST 1234 5698 7654 32.',
  'Card 4111 1111 1111 1111 was charged.',
  'Login from 203.0.113.77 at noon.',
  'Call +45 32 14 55 66 after six.',
  'Order 20261123 left berth 4.',
];

/** Prose with something to find, or to be fooled by, every ten thousand characters or so. */
function writeText(path: string, size: number): void {
  const file = openSync(path, 'w');
  let seed = 7;
  const next = (n: number) => {
    seed = (seed + 0x6d2b79f5) | 0;
    let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) % n;
  };
  let written = 0;
  while (written < size) {
    let piece = '';
    while (piece.length < MB) {
      let line = '';
      for (let i = 0; i < 14; i++) {
        // Few words are most of a text.
        const word = WORDS[Math.floor(WORDS.length * (next(1e6) / 1e6) ** 3)] as string;
        line += i === 0 ? word[0]?.toUpperCase() + word.slice(1) : ` ${word}`;
      }
      piece += `${line}.\n`;
      if (next(140) === 0) piece += `${RECORDS[next(RECORDS.length)]}\n`;
    }
    written += writeSync(file, piece.slice(0, Math.min(piece.length, size - written)));
  }
  closeSync(file);
}

function detectFile(engine: Engine, path: string): number {
  let found = 0;
  const stream = new TextStream(engine, {}, () => found++);
  const pieces = new ByteStream(stream, 'utf-8');
  const file = openSync(path, 'r');
  const bytes = Buffer.allocUnsafe(BLOCK);
  for (let n = readSync(file, bytes); n > 0; n = readSync(file, bytes)) pieces.push(bytes.subarray(0, n));
  pieces.end();
  closeSync(file);
  stream.end();
  return found;
}

const seconds = (work: () => void) => {
  const begun = performance.now();
  work();
  return (performance.now() - begun) / 1000;
};
const MOST_TURNS = 160;
const TURNS_SINCE_FASTER = 40;

/** The same file through a general search: one thread, nothing kept. */
function runRg(path: string): void {
  execFileSync(
    'rg',
    [
      '-o',
      '--no-filename',
      '--no-line-number',
      '-j1',
      '--no-config',
      ...PATTERNS.flatMap((p) => ['-e', p]),
      path,
    ],
    { stdio: ['ignore', 'ignore', 'inherit'] },
  );
}

const best = (times: number, work: () => void) =>
  Math.min(...Array.from({ length: times }, () => seconds(work)));

const folder = mkdtempSync(join(tmpdir(), 'yare-bench-'));
try {
  const path = join(folder, 'text.txt');
  writeText(path, SIZE);
  const engine = new Engine(builtInDetectors());
  const found = detectFile(engine, path);
  // By turns, until neither has been faster for long: other things that the machine does make both slower.
  let ours = Infinity;
  let rg = Infinity;
  let hasRg = true;
  for (let turn = 0, since = 0; turn < MOST_TURNS && since < TURNS_SINCE_FASTER; turn++, since++) {
    const faster = (least: number, work: () => void) => {
      const took = seconds(work);
      if (took < least * 0.995) since = 0;
      return Math.min(least, took);
    };
    ours = faster(ours, () => void detectFile(engine, path));
    try {
      rg = faster(rg, () => runRg(path));
    } catch {
      hasRg = false;
    }
  }
  figure('detect', 'detect_mb_per_s', SIZE / MB / ours, 'MB/s');
  figure('detect', 'detect_findings', found, 'findings');
  if (hasRg) {
    figure('detect', 'rg_mb_per_s', SIZE / MB / rg, 'MB/s');
    figure('detect', 'ratio_to_rg', rg / ours, 'ratio');
  }
  const small = join(folder, 'small.txt');
  writeText(small, SIZE / 4);
  const quarter = best(40, () => void detectFile(engine, small));
  figure('detect', 'linear_in_text', ours / 4 / quarter, 'ratio');
  const invented = (n: number) =>
    new Engine(
      Array.from({ length: n }, (_, i) =>
        PatternDetector.parse({
          kind: 'pattern',
          id: `own-${i}`,
          name: `Own ${i}`,
          anchor: {
            by: 'pattern',
            pattern: `(?<![\\p{L}\\p{N}])${String.fromCharCode(65 + (i % 26), 65 + ((i * 7) % 26))}-?\\d{${4 + (i % 9)}}(?!\\p{N})`,
          },
          start: 2,
        }),
      ),
    );
  const engines = [10, 100, 1000].map(invented);
  const times = engines.map((e) => best(12, () => void detectFile(e, small)));
  figure('detect', 'cost_of_100_to_10', (times[1] as number) / (times[0] as number), 'ratio');
  figure('detect', 'cost_of_1000_to_10', (times[2] as number) / (times[0] as number), 'ratio');
  const big = join(folder, 'big.txt');
  writeText(big, Math.min(1024 * MB, SIZE * 16));
  global.gc?.();
  const before = process.memoryUsage().rss;
  let peak = before;
  const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage().rss)), 50);
  const long = seconds(() => void detectFile(engine, big));
  peak = Math.max(peak, process.memoryUsage().rss);
  clearInterval(watch);
  figure('detect', 'stream_mb', statSync(big).size / MB, 'MB');
  figure('detect', 'stream_mb_per_s', statSync(big).size / MB / long, 'MB/s');
  figure('detect', 'stream_memory_growth_mb', (peak - before) / MB, 'MB');
  benchRoster();
  benchTraining();
  await benchExtraction();
} finally {
  rmSync(folder, { recursive: true, force: true });
}
