import { STORE_HOST } from './archive-store.ts';

/** One of the made-up account, as its listing tells it. */
export interface CloudStore {
  readonly id: string;
  readonly name: string;
  readonly address: Readonly<Record<string, string | number>>;
  readonly team: string;
  readonly region: string;
  readonly bytes: number;
  readonly created: string;
}

/** Buckets that really are there, in the stand-in object store. */
export const REAL_BUCKETS = [
  ['archive', 'Records'],
  ['manifests-cold', 'Port operations'],
  ['saltmiles-exports', 'Marketing'],
  ['wifi-sign-ins', 'IT'],
  ['car-deck-index', 'Security'],
  ['portal-uploads', 'Crewing'],
  ['freight-scans', 'Freight'],
] as const;

const TEAMS = [
  ['Port operations', ['port', 'berth', 'terminal', 'manifest']],
  ['Marketing', ['campaign', 'saltmiles', 'newsletter', 'web-events']],
  ['Crewing', ['crew', 'roster', 'portal', 'applications']],
  ['IT', ['logs', 'backup', 'wifi', 'metrics', 'build']],
  ['Finance', ['ledger', 'invoices', 'payroll-export']],
  ['Freight', ['freight', 'scans', 'rates']],
  ['', ['tmp', 'test', 'sandbox', 'old']],
] as const;
const STAGES = ['prod', 'test', 'dev', 'copy', '2023', '2024', '2025'] as const;
const REGIONS = ['eu-north', 'eu-central', 'uk-south', 'us-east'] as const;

/** How many there are besides those that are real. */
const INVENTED = 405;
/** What came, went and changed in the week between two listings. */
const NEWER = 9;
const LEFT = 4;

/**
 * The stores of the account, the same for every port but for where they lie; `when` it was listed: some are newer than last
 * week, some have gone since, some belong to another team.
 */
export function cloudStores(port: number, when: 'last week' | 'now'): readonly CloudStore[] {
  const endpoint = `http://${STORE_HOST}:${port}`;
  const real = REAL_BUCKETS.map(([bucket, team], i): CloudStore => ({
    id: `st-${String(i + 1).padStart(4, '0')}`,
    name: bucket,
    address: { kind: 'object store', endpoint, region: 'eu', bucket, prefix: '' },
    team,
    region: 'eu-north',
    bytes: 4_000_000 + 1_700_000 * i,
    created: `202${1 + (i % 4)}-0${1 + i}-1${i}T09:00:00Z`,
  }));
  const invented = Array.from({ length: INVENTED }, (_, i): CloudStore => inventedStore(i, when));
  const seen = invented.filter((_, i) => (when === 'now' ? i >= LEFT : i < INVENTED - NEWER));
  return [...real, ...seen];
}

function inventedStore(i: number, when: 'last week' | 'now'): CloudStore {
  // Spread as chance would have it, and the same each time.
  const spread = (salt: number, of: number) => (Math.imul(i + 1, 2_654_435_761 + salt * 40_503) >>> 7) % of;
  const [team, words] = TEAMS[spread(1, TEAMS.length)] ?? TEAMS[0];
  const word = words[spread(2, words.length)] ?? 'store';
  const stage = STAGES[spread(3, STAGES.length)] ?? 'prod';
  const region = REGIONS[spread(4, REGIONS.length)] ?? 'eu-north';
  const name = `${word}-${stage}-${String(i).padStart(3, '0')}`;
  const kind = (['object store', 'object store', 'postgresql', 'mariadb', 'folder'] as const)[spread(5, 5)];
  const address: CloudStore['address'] =
    kind === 'postgresql' || kind === 'mariadb'
      ? {
          kind,
          host: `${name}.db.brindlestrait.example`,
          port: kind === 'mariadb' ? 3306 : 5432,
          database: word.replaceAll('-', '_'),
        }
      : kind === 'folder'
        ? { kind, root: `/mnt/${name}` }
        : {
            kind: 'object store',
            endpoint: 'https://objects.brindlestrait.example',
            region,
            bucket: name,
            prefix: '',
          };
  return {
    id: `st-${String(1000 + i)}`,
    name,
    address,
    // Three were handed over since.
    team: when === 'now' && i % 150 === 17 ? 'IT' : team,
    region,
    bytes: 10_000 * (1 + spread(6, 90_000)),
    created: `20${20 + spread(7, 6)}-0${1 + spread(8, 9)}-1${spread(9, 9)}T10:00:00Z`,
  };
}
