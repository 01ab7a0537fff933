import { Agent as HttpAgent } from 'node:http';
import { Agent as HttpsAgent } from 'node:https';
import type { LookupFunction } from 'node:net';
import {
  GetObjectCommand,
  GetObjectTaggingCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
  type _Object,
} from '@aws-sdk/client-s3';
import { nameBytes, nameText } from '../../../core/holdings/sources/name-text.ts';
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
        const [is, tags] = await Promise.all([
          client.send(new HeadObjectCommand(at)),
          client.send(new GetObjectTaggingCommand(at)).catch(noTags),
        ]);
        if (is.ETag !== version) throw new ItemError('somebody changed it meanwhile');
        if (is.ObjectLockRetainUntilDate && is.ObjectLockRetainUntilDate > new Date())
          throw new FixedItemError('the store keeps it from being changed');
        const put = await client.send(
          new PutObjectCommand({
            ...at,
            Body: bytes,
            IfMatch: version,
            ...given({
              ContentType: is.ContentType,
              ContentEncoding: is.ContentEncoding,
              ContentLanguage: is.ContentLanguage,
              ContentDisposition: is.ContentDisposition,
              CacheControl: is.CacheControl,
              StorageClass: is.StorageClass,
              ServerSideEncryption: is.ServerSideEncryption,
              SSEKMSKeyId: is.SSEKMSKeyId,
              Metadata: is.Metadata,
            }),
            ...(tags.TagSet?.length
              ? {
                  Tagging: new URLSearchParams(
                    tags.TagSet.map((t): [string, string] => [t.Key ?? '', t.Value ?? '']),
                  ).toString(),
                }
              : {}),
          }),
        );
        current = undefined;
        const page = await client.send(
          new ListObjectsV2Command({ Bucket: at.Bucket, Prefix: at.Key, MaxKeys: 1 }),
        );
        const now = page.Contents?.[0];
        if (now?.Key !== at.Key || (put.ETag !== undefined && now.ETag !== put.ETag))
          throw new ItemError('somebody changed it once more meanwhile');
        return listedObject(name, now);
      } catch (error) {
        if (error instanceof ItemError) throw error;
        throw refusalOf(error);
      }
    },
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

/** Of a store that has no tags; throws what is wrong with one that has. */
function noTags(error: unknown): { readonly TagSet?: undefined } {
  const { name, $metadata } = error as Error & { $metadata?: { httpStatusCode?: number } };
  if (name === 'NotImplemented' || $metadata?.httpStatusCode === 501) return {};
  throw error;
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
