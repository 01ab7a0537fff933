import { Agent as HttpAgent } from 'node:http';
import { Agent as HttpsAgent } from 'node:https';
import type { LookupFunction } from 'node:net';
import {
  DeleteObjectCommand,
  GetObjectCommand,
  GetObjectTaggingCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  ListObjectVersionsCommand,
  PutObjectCommand,
  S3Client,
  type _Object,
  type ListObjectVersionsCommandOutput,
  type ServerSideEncryption,
  type StorageClass,
} from '@aws-sdk/client-s3';
import { z } from 'zod';
import { nameBytes, nameText } from '../../../core/text/name-text.ts';
import type { Json } from '../../../core/rules/change.ts';
import type { SourceAddress } from '../../../core/holdings/sources/source.ts';
import {
  FixedItemError,
  ItemError,
  MOST_BYTES,
  SourceError,
  type Connector,
  type ListedItem,
} from './connector.ts';

type StoreAddress = Extract<SourceAddress, { kind: 'object store' }>;

/** It runs on the oldest release of Node.js that we do; the package would tell every process so. */
process.env['AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED'] ??= 'true';

/** An empty step of a key, as in `a//b`; a `/` can stand in no other step. */
const EMPTY_STEP = '\\x2f';

/** A bucket of an object store with the S3 interface: the steps of keys are places, objects items. */
export function objectStoreConnector(address: StoreAddress, secret: string, connectTo: string): Connector {
  const lookup: LookupFunction = (_host, options, done) => {
    const family = connectTo.includes(':') ? 6 : 4;
    const ip = connectTo === 'localhost' ? '127.0.0.1' : connectTo;
    if (options.all) done(null, [{ address: ip, family }]);
    else done(null, ip, family);
  };
  const client = new S3Client({
    endpoint: address.endpoint,
    region: address.region,
    forcePathStyle: true,
    credentials: { accessKeyId: address.user, secretAccessKey: secret },
    maxAttempts: 3,
    // Stores of other makers do not know those that are new.
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
    requestHandler: {
      connectionTimeout: 10_000,
      requestTimeout: 120_000,
      httpAgent: new HttpAgent({ keepAlive: true, lookup }),
      httpsAgent: new HttpsAgent({ keepAlive: true, lookup }),
    },
  });
  const root = address.prefix === '' || address.prefix.endsWith('/') ? address.prefix : `${address.prefix}/`;
  const keyOf = (place: string, name = '') =>
    root +
    (place === ''
      ? ''
      : place
          .split('/')
          .map((s) => `${stepBytes(s)}/`)
          .join('')) +
    stepBytes(name);
  /** What lies right below a place, as it was listed last. */
  let current: { readonly place: string; readonly objects: ReadonlyMap<string, _Object> } | undefined;

  const listed = async (place: string) => {
    const prefix = keyOf(place);
    const objects = new Map<string, _Object>();
    const places: string[] = [];
    for (let token: string | undefined; ;) {
      const page = await client.send(
        new ListObjectsV2Command({
          Bucket: address.bucket,
          Prefix: prefix,
          Delimiter: '/',
          ...(token ? { ContinuationToken: token } : {}),
        }),
      );
      for (const o of page.Contents ?? []) {
        const name = (o.Key ?? '').slice(prefix.length);
        // What stands for a folder alone holds nothing.
        if (name !== '' || (o.Size ?? 0) > 0) objects.set(stepText(name), o);
      }
      for (const p of page.CommonPrefixes ?? [])
        places.push(stepText((p.Prefix ?? '').slice(prefix.length, -1)));
      if (!page.IsTruncated || !page.NextContinuationToken) break;
      token = page.NextContinuationToken;
    }
    current = { place, objects };
    return { objects, places };
  };

  interface At {
    readonly Bucket: string;
    readonly Key: string;
  }

  /** What the store tells of an object, of the version that it was listed in. */
  const sameObject = async (
    at: At,
    version: string,
  ): Promise<{ readonly told: Told; readonly id: string | undefined }> => {
    const [is, tags] = await Promise.all([
      client.send(new HeadObjectCommand(at)),
      client.send(new GetObjectTaggingCommand(at)).catch(noTags),
    ]);
    if (is.ETag !== version) throw new ItemError('somebody changed it meanwhile');
    if (is.ObjectLockRetainUntilDate && is.ObjectLockRetainUntilDate > new Date())
      throw new FixedItemError('the store keeps it from being changed');
    const Tagging = tags.TagSet?.length
      ? new URLSearchParams(tags.TagSet.map((t): [string, string] => [t.Key ?? '', t.Value ?? ''])).toString()
      : undefined;
    const id = is.VersionId === 'null' ? undefined : is.VersionId;
    return { told: given(Told.parse({ ...is, Tagging })), id };
  };

  const listedNow = async (name: string, at: At, etag: string | undefined): Promise<ListedItem> => {
    current = undefined;
    const page = await client.send(
      new ListObjectsV2Command({ Bucket: at.Bucket, Prefix: at.Key, MaxKeys: 1 }),
    );
    const now = page.Contents?.[0];
    if (now?.Key !== at.Key || (etag !== undefined && now.ETag !== etag))
      throw new ItemError('somebody changed it once more meanwhile');
    return listedObject(name, now);
  };

  /** Versions of an object that the store keeps, with the marks that it was deleted; none of a store that keeps none. */
  const olderVersions = async (at: At): Promise<readonly string[]> => {
    const found: string[] = [];
    let from: { KeyMarker?: string | undefined; VersionIdMarker?: string | undefined } = {};
    for (;;) {
      const page = await client
        .send(new ListObjectVersionsCommand({ Bucket: at.Bucket, Prefix: at.Key, ...given(from) }))
        .catch(noVersions);
      for (const v of [...(page.Versions ?? []), ...(page.DeleteMarkers ?? [])])
        if (v.Key === at.Key && v.VersionId !== undefined && v.VersionId !== 'null') found.push(v.VersionId);
      if (!page.IsTruncated) return found;
      from = { KeyMarker: page.NextKeyMarker, VersionIdMarker: page.NextVersionIdMarker };
    }
  };

  const restore = async (
    place: string,
    { name }: Pick<ListedItem, 'name'>,
    bytes: Uint8Array,
    mark: Json,
  ): Promise<ListedItem> => {
    const at = { Bucket: address.bucket, Key: keyOf(place, name) };
    try {
      const put = await client.send(
        new PutObjectCommand({ ...at, ...Told.parse(mark ?? {}), Body: bytes, IfNoneMatch: '*' }),
      );
      return await listedNow(name, at, put.ETag);
    } catch (error) {
      if (error instanceof ItemError) throw error;
      throw refusalOf(error);
    }
  };

  return {
    async check() {
      try {
        await client.send(new ListObjectsV2Command({ Bucket: address.bucket, Prefix: root, MaxKeys: 1 }));
      } catch (error) {
        throw asSourceError(error, address);
      }
    },
    async list(place) {
      try {
        const { objects, places } = await listed(place);
        return { items: [...objects.keys()], places };
      } catch (error) {
        if (place === '') throw asSourceError(error, address);
        return { items: [], places: [], problem: `It was not listed: ${(error as Error).message}.` };
      }
    },
    async details(place, names) {
      const { objects } = current?.place === place ? current : await listed(place);
      return names.flatMap((name): ListedItem[] => {
        const o = objects.get(name);
        if (!o) return [];
        return [listedObject(name, o)];
      });
    },
    async read(place, { name, size }) {
      if (size > MOST_BYTES) throw new ItemError(`it is larger than ${Math.round(MOST_BYTES / 1e6)} MB`);
      try {
        const object = await client.send(
          new GetObjectCommand({ Bucket: address.bucket, Key: keyOf(place, name) }),
        );
        return { bytes: (await object.Body?.transformToByteArray()) ?? new Uint8Array(), name };
      } catch (error) {
        throw refusalOf(error);
      }
    },
    async replace(place, { name, version }, bytes) {
      const at = { Bucket: address.bucket, Key: keyOf(place, name) };
      try {
        const { told } = await sameObject(at, version);
        const put = await client.send(
          new PutObjectCommand({ ...at, ...told, Body: bytes, IfMatch: version }),
        );
        return await listedNow(name, at, put.ETag);
      } catch (error) {
        if (error instanceof ItemError) throw error;
        throw refusalOf(error);
      }
    },
    async remove(place, { name, version }) {
      const at = { Bucket: address.bucket, Key: keyOf(place, name) };
      try {
        const { told, id } = await sameObject(at, version);
        // Older ones first: whoever comes after a broken run still finds the one that is there now.
        const older = (await olderVersions(at)).filter((v) => v !== id);
        for (const VersionId of older) await client.send(new DeleteObjectCommand({ ...at, VersionId }));
        // Named by its version it leaves no mark behind, under which it could be had again.
        await client.send(
          new DeleteObjectCommand(id === undefined ? { ...at, IfMatch: version } : { ...at, VersionId: id }),
        );
        current = undefined;
        const n = older.length;
        return {
          method:
            n > 0 ? `deleted with ${n} older ${n === 1 ? 'version' : 'versions'}` : 'deleted from the bucket',
          mark: JSON.parse(JSON.stringify(told)) as Json,
        };
      } catch (error) {
        if (error instanceof ItemError) throw error;
        throw refusalOf(error);
      }
    },
    restore,
    add: (place, item, bytes) => restore(place, item, bytes, null),
    close() {
      client.destroy();
      return Promise.resolve();
    },
  };
}

function listedObject(name: string, o: _Object): ListedItem {
  return {
    name,
    size: o.Size ?? 0,
    created: null,
    changed: o.LastModified?.toISOString() ?? null,
    owner: o.Owner?.DisplayName ?? '',
    version: o.ETag ?? '',
  };
}

const text = z.string().optional();
/** What a store tells of an object, and takes with its bytes. */
const Told = z.object({
  ...{ ContentType: text, ContentEncoding: text, ContentLanguage: text, ContentDisposition: text },
  ...{ CacheControl: text, SSEKMSKeyId: text, Tagging: text },
  StorageClass: z.custom<StorageClass>().optional(),
  ServerSideEncryption: z.custom<ServerSideEncryption>().optional(),
  Metadata: z.record(z.string(), z.string()).optional(),
});
type Told = z.infer<typeof Told>;

/** Of a store that has no tags; throws what is wrong with one that has. */
function noTags(error: unknown): { readonly TagSet?: undefined } {
  requireUnknown(error);
  return {};
}

function noVersions(error: unknown): ListObjectVersionsCommandOutput {
  requireUnknown(error);
  return { $metadata: {} };
}

/** Throws an error again that says anything but that the store knows no such request. */
function requireUnknown(error: unknown): void {
  const { name, $metadata } = error as Error & { $metadata?: { httpStatusCode?: number } };
  if (name !== 'NotImplemented' && $metadata?.httpStatusCode !== 501) throw error;
}

/** What the store says of one object, as an ItemError; an error that is not this object's doing, as it is. */
function refusalOf(error: unknown): unknown {
  const { name, message, $metadata } = error as Error & { $metadata?: { httpStatusCode?: number } };
  // Without an answer, or with one of a store that is in trouble.
  const status = $metadata?.httpStatusCode ?? 500;
  if (status >= 500) return error;
  if (status === 404) return new ItemError('it was deleted meanwhile');
  if (status === 409 || status === 412) return new ItemError('somebody changed it meanwhile');
  if (status === 405 || name === 'AccessDenied')
    return new ItemError('the store lets this key change nothing, or not look at all of the object');
  return new ItemError(message || name);
}

/** Without what is not said. */
function given<T extends object>(all: T): { readonly [K in keyof T]?: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(all).filter(([, v]) => v !== undefined)) as never;
}

function stepText(step: string): string {
  return step === '' ? EMPTY_STEP : nameText(Buffer.from(step));
}

function stepBytes(text: string): string {
  return text === EMPTY_STEP ? '' : Buffer.from(nameBytes(text)).toString();
}

function asSourceError(error: unknown, { endpoint, bucket }: StoreAddress): SourceError {
  const { name, message, code } = error as Error & { code?: string };
  if (name === 'NoSuchBucket') return new SourceError(`There is no bucket “${bucket}”.`, 'bucket');
  if (/^(?:AccessDenied|InvalidAccessKeyId|SignatureDoesNotMatch|Forbidden)$/.test(name))
    return new SourceError('The store does not take this key, or it may not list the bucket.', 'secret');
  if (code === 'ECONNREFUSED') return new SourceError(`Nothing answers at ${endpoint}.`, 'endpoint');
  return new SourceError(
    `${endpoint} could not be opened as an object store: ${message || name}.`,
    'endpoint',
  );
}
