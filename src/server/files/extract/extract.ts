import { Allowance, gunzip, readTar, readZip } from './archive.ts';
import { decode } from './decode.ts';
import {
  LIMITS,
  TextBuilder,
  UnreadableError,
  type Extracted,
  type Limits,
  type Problem,
} from './extracted.ts';
import { extractCards, extractMail, extractMbox } from './mail.ts';
import { extractHtml } from './html.ts';
import { extractXml } from './xml.ts';
import { extractDocx, extractOpenDocument, extractPptx } from './office.ts';
import { extractXlsx } from './workbook.ts';
import { extractPdf } from './pdf.ts';
import { extractCsv, isTable } from './csv.ts';
import { extractMarkdown, hasMarkdownTable } from './markdown.ts';
import { extractJson } from './json.ts';
import { extractSql, hasInserts } from './sql.ts';
import { extractPlain, extractRtf } from './text-formats.ts';

/** What a file is by its first bytes, whatever its name says. */
export function kindOf(bytes: Buffer, name: string): string {
  const head = bytes.subarray(0, 4096).toString('latin1');
  if (head.startsWith('%PDF-') || /^[\s\S]{0,1000}%PDF-1\./.test(head)) return 'pdf';
  if (/^PK(?:\x03\x04|\x05\x06)/.test(head)) return zipKind(bytes, name);
  if (head.startsWith('\x1f\x8b')) return 'gzip';
  if (head.startsWith('{\\rtf')) return 'rtf';
  if (head.startsWith('\xd0\xcf\x11\xe0')) return 'old office';
  if (head.slice(257, 262) === 'ustar') return 'tar';
  if (
    /^(?:\x89PNG|\xff\xd8\xff|GIF8|BM|RIFF|II\*\0|MM\0\*|\x7fELF|MZ|OggS|ID3|\0\0\0.ftyp|7z\xbc\xaf|Rar!|fLaC|SQLite format)/.test(
      head,
    )
  )
    return 'binary';
  const extension = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  const text = head.replace(/^\xef\xbb\xbf/, '').trimStart();
  if (extension === 'mbox' || /^From \S+@?\S* .*\d{4}\r?\n[\w-]+:/.test(text)) return 'mbox';
  if (
    extension === 'eml' ||
    /^(?:(?:Received|Return-Path|Delivered-To|From|To|Subject|Date|MIME-Version|Message-ID|X-[\w-]+): [^\n]*\n(?:[ \t][^\n]*\n)*){3}/i.test(
      text,
    )
  )
    return 'eml';
  if (/^BEGIN:VCARD/i.test(text)) return 'vcf';
  if (/^BEGIN:VCALENDAR/i.test(text)) return 'ics';
  if (
    /^<!doctype html|^<html[\s>]/i.test(text) ||
    ((extension === 'html' || extension === 'htm') && text.includes('<'))
  )
    return 'html';
  if (/^<\?xml/.test(text) || (extension === 'xml' && text.startsWith('<')))
    return /<html[\s>]/.test(text.slice(0, 600)) ? 'html' : 'xml';
  if (extension === 'json' || extension === 'geojson') return 'json';
  if (extension === 'jsonl' || extension === 'ndjson') return 'json lines';
  if (extension === 'csv' || extension === 'tsv') return 'csv';
  if (extension === 'rtf' || extension === 'pdf' || /^(?:docx|xlsx|pptx|odt|ods|odp|zip)$/.test(extension))
    return `no ${extension}`;
  if (looksBinary(bytes)) return 'binary';
  return extension === 'sql' || hasInserts(bytes.subarray(0, 64_000).toString('latin1')) ? 'sql' : 'text';
}

function zipKind(bytes: Buffer, name: string): string {
  const names =
    bytes.toString('latin1', 0, Math.min(bytes.length, 400_000)) +
    bytes.toString('latin1', Math.max(0, bytes.length - 200_000));
  if (names.includes('word/document.xml')) return 'docx';
  if (names.includes('xl/workbook.xml')) return 'xlsx';
  if (names.includes('ppt/presentation.xml') || names.includes('ppt/slides/')) return 'pptx';
  if (
    names.includes('mimetypeapplication/vnd.oasis.opendocument') ||
    (/\.od[tspg]$/i.test(name) && names.includes('content.xml'))
  )
    return 'opendocument';
  return 'zip';
}

function looksBinary(bytes: Buffer): boolean {
  const sample = bytes.subarray(0, 4000);
  let odd = 0;
  for (const b of sample) if (b < 9 || (b > 13 && b < 32 && b !== 27)) odd++;
  if (odd <= sample.length * 0.02) return false;
  const { text, encoding } = decode(sample.subarray(0, sample.length & ~1));
  return !(encoding.startsWith('UTF-') && !/[\0-\x08]/.test(text));
}

const MOST_PROBLEMS = 1000;

const EXPECTED: Readonly<Record<string, readonly string[]>> = {
  pdf: ['pdf'],
  docx: ['docx'],
  xlsx: ['xlsx'],
  pptx: ['pptx'],
  odt: ['opendocument'],
  ods: ['opendocument'],
  rtf: ['rtf'],
  zip: ['zip', 'docx', 'xlsx', 'pptx', 'opendocument'],
  png: ['binary'],
  jpg: ['binary'],
  txt: ['text', 'csv', 'json', 'html', 'xml', 'eml', 'mbox', 'vcf', 'ics', 'json lines', 'sql'],
};

/**
 * The text of a file's bytes with where each stretch stood. What cannot be read is told among the problems: a damaged,
 * encrypted or overlarge part never takes the rest with it.
 */
export async function extract(
  name: string,
  bytes: Buffer,
  limits: Limits = LIMITS,
  seen: SeePart = () => {},
): Promise<Extracted> {
  return read(name, bytes, limits, new Allowance(limits), 0, seen);
}

/** Told of every file within a file: attachments, members of archives, and what those hold. */
export type SeePart = (name: string, bytes: Buffer) => void;

async function read(
  name: string,
  bytes: Buffer,
  limits: Limits,
  allowance: Allowance,
  depth: number,
  seen: SeePart,
): Promise<Extracted> {
  const nothing = (kind: Problem['kind'], words: string): Extracted => ({
    text: '',
    segments: [],
    problems: [{ part: '', kind, words }],
    kind: 'nothing',
  });
  if (bytes.length > limits.fileBytes)
    return nothing('too large', `It is larger than ${Math.round(limits.fileBytes / 1e6)} MB`);
  if (depth > limits.depth) return nothing('too deep', `It is packed more than ${limits.depth} times`);
  const kind = kindOf(bytes, name);
  const extension = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  try {
    const extracted = await readAs(kind, name, bytes, limits, allowance, depth, seen);
    const expected = EXPECTED[extension];
    if (!expected || expected.includes(kind)) return extracted;
    return {
      ...extracted,
      problems: [
        {
          part: '',
          kind: 'misnamed',
          words: `Its name says ${extension.toUpperCase()}, but it is ${extracted.kind}`,
        },
        ...extracted.problems,
      ],
    };
  } catch (error) {
    if (error instanceof UnreadableError) return nothing(error.kind, error.message);
    return nothing('damaged', `It could not be read: ${(error as Error).message}`);
  }
}

async function readAs(
  kind: string,
  name: string,
  bytes: Buffer,
  limits: Limits,
  allowance: Allowance,
  depth: number,
  seen: SeePart,
): Promise<Extracted> {
  const inner = (part: string, content: Buffer) => {
    seen(part, content);
    return read(part, content, limits, allowance, depth + 1, seen);
  };
  const text = () => decode(bytes).text;
  switch (kind) {
    case 'pdf':
      return extractPdf(bytes, limits);
    case 'docx':
      return extractDocx(bytes, limits, allowance);
    case 'xlsx':
      return extractXlsx(bytes, limits, allowance);
    case 'pptx':
      return extractPptx(bytes, limits, allowance);
    case 'opendocument':
      return extractOpenDocument(bytes, limits, allowance);
    case 'rtf':
      return extractRtf(bytes, limits);
    case 'eml':
      return extractMail(bytes, limits, inner);
    case 'mbox':
      return extractMbox(bytes, limits, inner);
    case 'vcf':
      return extractCards(text(), limits, 'vCard');
    case 'ics':
      return extractCards(text(), limits, 'iCalendar');
    case 'html':
      return extractHtml(text(), limits);
    case 'xml':
      return extractXml(text(), limits);
    case 'json':
      return extractJson(text(), limits, false);
    case 'json lines':
      return extractJson(text(), limits, true);
    case 'sql':
      return extractSql(text(), limits);
    case 'csv': {
      const decoded = text();
      return extractCsv(decoded, limits) ?? extractPlain(decoded, limits);
    }
    case 'text': {
      const decoded = text();
      if (hasMarkdownTable(decoded)) return extractMarkdown(decoded, limits);
      return (isTable(decoded) ? extractCsv(decoded, limits) : undefined) ?? extractPlain(decoded, limits);
    }
    case 'gzip': {
      const content = gunzip(bytes, allowance);
      return inner(
        name.replace(/\.(?:gz|tgz)$/i, (e) => (e.toLowerCase() === '.tgz' ? '.tar' : '')),
        content,
      );
    }
    case 'zip':
    case 'tar': {
      const out = new TextBuilder(limits);
      const each = async (e: { readonly name: string; readonly bytes: Buffer }) =>
        out.part(e.name, await inner(e.name, e.bytes));
      const told = (part: string, about: Problem['kind'], words: string) =>
        void (out.problems.length < MOST_PROBLEMS && out.problems.push({ part, kind: about, words }));
      try {
        await (kind === 'zip' ? readZip(bytes, allowance, each, told) : readTar(bytes, allowance, each));
      } catch (error) {
        // What was read before stays.
        if (!(error instanceof UnreadableError)) throw error;
        out.problems.push({ part: '', kind: error.kind, words: error.message });
      }
      return out.done(kind === 'zip' ? 'ZIP' : 'tar');
    }
    case 'old office':
      throw new UnreadableError(
        'encrypted',
        'It is encrypted, or in the binary format of Office before 2007; save it anew to have it read',
      );
    case 'binary':
      throw new UnreadableError('unknown kind', 'It holds no text that can be read');
    default:
      throw new UnreadableError('damaged', `Its name says ${kind.slice(3).toUpperCase()}, but it is none`);
  }
}
