import { storeOf, type Store } from '../../../src/core/holdings/listings/store.ts';
import type { Schedule } from '../../../src/core/schedule/schedule.ts';
import { keepListing } from '../../../src/server/holdings/listings/keep-listing.ts';
import { addListing } from '../../../src/server/holdings/listings/listings.ts';
import { toDatetime } from '../../../src/server/store/columns.ts';
import { standinCertificate } from '../../../standins/certificate.ts';
import { CLOUD_HOST, CLOUD_KEY, cloudUrl } from '../../../standins/cloud-listing.ts';
import { cloudStores } from '../../../standins/cloud-stores.ts';
import type { Demo } from '../../demo.ts';
import { line } from '../../ledger.ts';

const MONDAYS: Schedule = { every: 'week', weekday: 1, day: 1, at: '06:00', zone: 'Europe/Copenhagen' };

/** The account of the ferry line, as it was listed last week; it is asked again as soon as there is a worker. */
export async function loadListing(demo: Demo, systems: ReadonlyMap<string, number>): Promise<void> {
  const { ctx, tx, now, lines } = demo;
  const officer = demo.person('Ines Abara');
  const { cert } = await standinCertificate(ctx.settings.DATA_DIR, [CLOUD_HOST]);
  const system = (name: string) => systems.get(name) ?? 0;
  const id = await addListing(tx, ctx, officer, {
    content: {
      name: 'Cloud account',
      schedule: MONDAYS,
      tell: [officer, demo.person('Magnus Reyer')],
      owners: [
        { of: 'name', like: 'payroll-*', system: system('Payroll') },
        { of: 'name', like: 'wifi-*', system: system('Ship Wi-Fi') },
        { of: 'team', like: 'Port operations', system: system('Port operations') },
        { of: 'team', like: 'Marketing', system: system('Saltmiles') },
        { of: 'team', like: 'Crewing', system: system('Crew office') },
        { of: 'team', like: 'Freight', system: system('Freight') },
        { of: 'team', like: 'Finance', system: system('Accounts') },
      ],
    },
    address: { kind: 'account', url: cloudUrl(ctx.settings.STANDIN_TLS_PORT), certificate: cert.trim() },
    secret: CLOUD_KEY,
  });
  const lastWeek = { ...ctx, now: () => demo.at(7) };
  const told = cloudStores(ctx.settings.STANDIN_PORT, 'last week').map(storeOf);
  // Nobody is told of what was there from the beginning.
  await keepListing(
    tx,
    lastWeek,
    null,
    id,
    { stores: told.filter((s): s is Store => 'key' in s), faults: [] },
    { tell: false },
  );
  await tx.run("UPDATE found_store SET news = 'same' WHERE listing_id = ?", [id]);
  await tx.run('UPDATE listing SET next_run = ? WHERE id = ?', [toDatetime(now), id]);
  lines.push(line(demo.at(7), officer, 'listing.add', 'listing', id, { name: 'Cloud account' }));
}
