import { readBody } from './answer.ts';
import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { mkdir, readFile, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, join } from 'node:path';

export interface ObjectStoreOptions {
  /** A folder a bucket; below it, files are objects. */
  readonly folder: string;
  readonly user: string;
  readonly secret: string;
  /** Objects on a page. */
  readonly page?: number;
}

interface Stored {
  readonly key: string;
  readonly size: number;
  readonly changed: Date;
  readonly etag: string;
}

/**
 * Answers what the S3 interface is asked to list a bucket, and to get, put and delete its objects, with; every request has to
 * be signed (SigV4). A bucket beside which there is a folder `.versions-BUCKET` keeps older versions of its objects there.
 */
export function objectStore({ folder, user, secret, page = 1000 }: ObjectStoreOptions) {
  let turn: Promise<unknown> = Promise.resolve();
  return async (request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> => {
    const refuse = (status: number, code: string, words: string) =>
      sendXml(response, status, `<Error><Code>${code}</Code><Message>${words}</Message></Error>`);
    const refused = signatureFault(request, url, user, secret);
    if (refused) return refuse(403, refused, 'The request is not signed with a key of this store.');
    const [bucket = '', ...rest] = url.pathname.slice(1).split('/').map(decodeURIComponent);
    const key = rest.join('/');
    if (!/^[\w.-]+$/.test(bucket) || bucket.startsWith('.') || !(await isFolder(join(folder, bucket))))
      return refuse(404, 'NoSuchBucket', 'There is no such bucket.');
    if (key.split('/').some((step) => step === '.' || step === '..'))
      return refuse(400, 'InvalidObjectName', 'No such name is taken.');
    const about = join(folder, `.about-${bucket}`, createHash('sha256').update(key).digest('hex'));
    const older = join(folder, `.versions-${bucket}`, createHash('sha256').update(key).digest('hex'));
    if (request.method === 'PUT' && key !== '') {
      const body = await readBody(request, MOST_BYTES);
      if (createHash('sha256').update(body).digest('hex') !== request.headers['x-amz-content-sha256'])
        return refuse(400, 'XAmzContentSHA256Mismatch', 'It is not what was signed.');
      // One after the other, so that of two who met the same version one is told.
      const done = turn.then(() => put(request, { bucket: join(folder, bucket), key, about, body, older }));
      turn = done.catch(() => {});
      const made = await done;
      if ('code' in made) return refuse(made.status, made.code, 'It is another version by now, or gone.');
      response.writeHead(200, { etag: made.etag });
      return void response.end();
    }
    if (request.method === 'DELETE' && key !== '') {
      const done = turn.then(() =>
        remove(request, url, { path: join(folder, bucket, key), bucket: join(folder, bucket), key, older }),
      );
      turn = done.catch(() => {});
      const made = await done;
      if (made !== undefined) return refuse(made.status, made.code, 'It is another version by now, or gone.');
      response.writeHead(204);
      return void response.end();
    }
    if (request.method !== 'GET' && request.method !== 'HEAD')
      return refuse(405, 'MethodNotAllowed', 'This store does no such thing.');
    const objects = await readBucket(join(folder, bucket));
    if (key === '' && url.searchParams.has('versions'))
      return sendXml(
        response,
        200,
        await versionsXml(objects, url.searchParams.get('prefix') ?? '', join(folder, `.versions-${bucket}`)),
      );
    if (key === '') return sendXml(response, 200, listing(bucket, objects, url.searchParams, page));
    if (url.searchParams.has('versions')) return refuse(501, 'NotImplemented', 'Of a bucket alone.');
    const object = objects.find((o) => o.key === key);
    if (!object) return refuse(404, 'NoSuchKey', 'There is no such object.');
    const { tagging = '', ...told } = JSON.parse(await readFile(about, 'utf8').catch(() => '{}')) as Record<
      string,
      string
    >;
    if (url.searchParams.has('tagging')) return sendXml(response, 200, tagsXml(tagging));
    response.writeHead(200, {
      ...told,
      ...((await isFolder(dirname(older))) ? { 'x-amz-version-id': NOW } : {}),
      etag: object.etag,
      'last-modified': object.changed.toUTCString(),
      'content-length': object.size,
    });
    response.end(request.method === 'HEAD' ? undefined : await readFile(join(folder, bucket, object.key)));
  };
}

interface Putting {
  readonly bucket: string;
  readonly key: string;
  /** The file that keeps what is told of it. */
  readonly about: string;
  readonly body: Buffer;
  /** The folder of its older versions. */
  readonly older: string;
}

async function put(
  request: IncomingMessage,
  { bucket, key, about, body, older }: Putting,
): Promise<{ readonly etag: string } | { readonly status: number; readonly code: string }> {
  const find = async () => (await readBucket(bucket)).find((o) => o.key === key);
  const old = await find();
  const wanted = request.headers['if-match'];
  if (wanted !== undefined && !old) return { status: 404, code: 'NoSuchKey' };
  if (wanted !== undefined && wanted !== old?.etag) return { status: 412, code: 'PreconditionFailed' };
  if (request.headers['if-none-match'] === '*' && old) return { status: 412, code: 'PreconditionFailed' };
  if (old && (await isFolder(dirname(older)))) {
    await mkdir(older, { recursive: true });
    await rename(join(bucket, key), join(older, `${Date.now()}-${(await readdir(older)).length}`));
  }
  await mkdir(dirname(about), { recursive: true });
  await mkdir(dirname(join(bucket, key)), { recursive: true });
  await writeFile(about, JSON.stringify(aboutOf(request)));
  await writeFile(join(bucket, key), body);
  return { etag: (await find())?.etag ?? '' };
}

/** One version where that is named, else what is there now; what is wrong, or nothing. */
async function remove(
  request: IncomingMessage,
  url: URL,
  { bucket, path, key, older }: { bucket: string; path: string; key: string; older: string },
): Promise<{ readonly status: number; readonly code: string } | undefined> {
  const version = url.searchParams.get('versionId');
  if (version !== null && version !== NOW && version !== 'null') {
    if (/^[\d-]+$/.test(version)) await rm(join(older, version), { force: true });
    return undefined;
  }
  const old = (await readBucket(bucket)).find((o) => o.key === key);
  const wanted = request.headers['if-match'];
  if (wanted !== undefined && !old) return { status: 404, code: 'NoSuchKey' };
  if (wanted !== undefined && wanted !== old?.etag) return { status: 412, code: 'PreconditionFailed' };
  if (old && version === null && (await isFolder(dirname(older)))) {
    // What is deleted without naming a version is an older one from then on.
    await mkdir(older, { recursive: true });
    await rename(path, join(older, `${Date.now()}-${(await readdir(older)).length}`));
  } else await rm(path, { force: true });
  return undefined;
}

const NOW = 'now';

async function versionsXml(objects: readonly Stored[], prefix: string, folder: string): Promise<string> {
  const version = (key: string, id: string, etag: string) =>
    `<Version><Key>${escape(key)}</Key><VersionId>${id}</VersionId><IsLatest>${String(id === NOW)}</IsLatest><ETag>${escape(etag)}</ETag></Version>`;
  const kept = await isFolder(folder);
  const now = objects
    .filter((o) => o.key.startsWith(prefix))
    .map((o) => version(o.key, kept ? NOW : 'null', o.etag));
  // Only of the very key: folders here are named by its digest.
  const of = await readdir(join(folder, createHash('sha256').update(prefix).digest('hex'))).catch(() => []);
  return `<ListVersionsResult><IsTruncated>false</IsTruncated>${now.join('')}${of.map((id) => version(prefix, id, '""')).join('')}</ListVersionsResult>`;
}

const MOST_BYTES = 100e6;

/** What is kept of an object beside its bytes. */
function aboutOf({ headers }: IncomingMessage): Readonly<Record<string, string>> {
  const kept = Object.entries(headers).flatMap(([name, value]) =>
    /^(?:content-(?:type|language|disposition|encoding)|cache-control|x-amz-meta-.*)$/.test(name)
      ? [[name, String(value)] as const]
      : [],
  );
  return Object.fromEntries([...kept, ['tagging', String(headers['x-amz-tagging'] ?? '')]]);
}

function tagsXml(tagging: string): string {
  const tags = [...new URLSearchParams(tagging)].map(
    ([key, value]) => `<Tag><Key>${escape(key)}</Key><Value>${escape(value)}</Value></Tag>`,
  );
  return `<Tagging><TagSet>${tags.join('')}</TagSet></Tagging>`;
}

async function isFolder(path: string): Promise<boolean> {
  return stat(path).then(
    (s) => s.isDirectory(),
    () => false,
  );
}

async function readBucket(folder: string): Promise<readonly Stored[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true });
  const files = entries.filter((e) => e.isFile()).map((e) => join(e.parentPath, e.name));
  const objects = await Promise.all(
    files.map(async (path): Promise<Stored> => {
      const { size, mtime } = await stat(path);
      const etag = createHash('md5').update(`${path} ${size} ${mtime.getTime()}`).digest('hex');
      return { key: path.slice(folder.length + 1), size, changed: mtime, etag: `"${etag}"` };
    }),
  );
  return objects.sort((a, b) => Buffer.compare(Buffer.from(a.key), Buffer.from(b.key)));
}

function listing(bucket: string, objects: readonly Stored[], query: URLSearchParams, page: number): string {
  const prefix = query.get('prefix') ?? '';
  const delimiter = query.get('delimiter') ?? '';
  const after = query.get('continuation-token') ?? '';
  const most = Math.min(page, Number(query.get('max-keys') ?? page));
  const lines: { readonly mark: string; readonly xml: string }[] = [];
  const seen = new Set<string>();
  for (const o of objects) {
    if (!o.key.startsWith(prefix)) continue;
    const end = delimiter ? o.key.indexOf(delimiter, prefix.length) : -1;
    const mark = end < 0 ? o.key : o.key.slice(0, end + delimiter.length);
    if (seen.has(mark)) continue;
    seen.add(mark);
    lines.push({
      mark,
      xml:
        end < 0
          ? `<Contents><Key>${escape(o.key)}</Key><LastModified>${o.changed.toISOString()}</LastModified><ETag>${escape(o.etag)}</ETag><Size>${o.size}</Size></Contents>`
          : `<CommonPrefixes><Prefix>${escape(mark)}</Prefix></CommonPrefixes>`,
    });
  }
  const left = lines.filter((l) => l.mark > after);
  const shown = left.slice(0, most);
  const more = left.length > shown.length;
  return `<ListBucketResult><Name>${escape(bucket)}</Name><Prefix>${escape(prefix)}</Prefix><KeyCount>${shown.length}</KeyCount><IsTruncated>${more}</IsTruncated>${more ? `<NextContinuationToken>${escape(shown.at(-1)?.mark ?? '')}</NextContinuationToken>` : ''}${shown.map((l) => l.xml).join('')}</ListBucketResult>`;
}

function sendXml(response: ServerResponse, status: number, xml: string): void {
  response.writeHead(status, { 'content-type': 'application/xml' });
  response.end(`<?xml version="1.0" encoding="UTF-8"?>${xml}`);
}

function escape(text: string): string {
  return text.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');
const hmac = (key: Buffer | string, text: string) => createHmac('sha256', key).update(text).digest();

/** What is wrong with a request's signature, by the store's own words for it. */
function signatureFault(
  request: IncomingMessage,
  url: URL,
  user: string,
  secret: string,
): string | undefined {
  const told =
    /^AWS4-HMAC-SHA256 Credential=([^/]+)\/(\d{8})\/([\w-]+)\/s3\/aws4_request, ?SignedHeaders=([\w;-]+), ?Signature=([0-9a-f]{64})$/.exec(
      request.headers.authorization ?? '',
    );
  if (!told) return 'AccessDenied';
  const [, by, day = '', region = '', headers = '', signature = ''] = told;
  if (by !== user) return 'InvalidAccessKeyId';
  const query = [...url.searchParams]
    .map(([k, v]) => [encode(k), encode(v)] as const)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([k, v]) => `${k}=${v}`)
    .join('&');
  const fields = headers.split(';').map((h) => `${h}:${String(request.headers[h] ?? '').trim()}\n`);
  const body = String(request.headers['x-amz-content-sha256'] ?? 'UNSIGNED-PAYLOAD');
  const path = url.pathname
    .split('/')
    .map((s) => encode(decodeURIComponent(s)))
    .join('/');
  const canonical = [request.method, path, query, fields.join(''), headers, body].join('\n');
  const at = String(request.headers['x-amz-date'] ?? '');
  const scope = `${day}/${region}/s3/aws4_request`;
  const key = ['s3', 'aws4_request'].reduce<Buffer>(
    (k, part) => hmac(k, part),
    hmac(hmac(`AWS4${secret}`, day), region),
  );
  const wanted = hmac(key, ['AWS4-HMAC-SHA256', at, scope, sha256(canonical)].join('\n'));
  return timingSafeEqual(wanted, Buffer.from(signature, 'hex')) ? undefined : 'SignatureDoesNotMatch';
}

function encode(text: string): string {
  return encodeURIComponent(text).replace(
    /[!'()*]/g,
    (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
  );
}
