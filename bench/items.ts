import { builtInDetectors } from '../src/core/holdings/detection/library/library.ts';
import type { Store } from '../src/server/store/pool.ts';

/** Findings an item. */
const EACH = 10;

/** Fills an empty database with so many items in eight sources, with what was found in them. */
export async function fillItems(store: Store, items: number): Promise<void> {
  const at = '2026-11-20 09:00:00';
  await store.run(
    "INSERT INTO source (name, kind, content, created_at) SELECT CONCAT('Share ', seq), 'folder', '{}', ? FROM seq_1_to_8",
    [at],
  );
  await store.run(
    "INSERT INTO place (source_id, hash, path) SELECT 1 + seq % 8, UNHEX(LEFT(SHA2(seq, 256), 32)), CONCAT('folder ', seq % 40, '/below ', seq) FROM seq_1_to_4000",
  );
  await store.run(
    `INSERT INTO item (id, source_id, place_id, name_hash, name, size, created_at, changed_at, owner, version, reading_id, read_at, state, format, document, people)
     SELECT seq, 1 + p % 8, p, UNHEX(LEFT(MD5(seq), 32)), CONCAT('report ', seq, '.xlsx'), seq % 90000, NULL,
       DATE_SUB(?, INTERVAL (seq * 7919) % 3650 DAY), CONCAT('owner ', seq % 60), '1', 1, ?, 'read', ELT(1 + seq % 4, 'XLSX', 'DOCX', 'PDF', 'mail'),
       IF(seq % 3 = 0, ELT(1 + seq % 6, 'vin', 'imei', 'bic', 'iban', 'email', 'phone'), NULL), seq % 9
     FROM (SELECT seq, 1 + (seq * 31) % 4000 AS p FROM seq_1_to_${items}) s`,
    [at, at],
  );
  const detectors = builtInDetectors()
    .map((d) => d.id)
    .slice(0, 60);
  const list = detectors.map((d) => `'${d}'`).join(', ');
  for (let n = 0; n < EACH; n++)
    await store.run(
      `INSERT IGNORE INTO finding (item_id, detector, rehearsed, version, matches, distinct_values, confidence)
       SELECT seq, ELT(1 + (seq * ${n + 3} + ${n * 11}) % ${detectors.length}, ${list}), 0, 1, 1 + seq % 40, 1 + seq % 20, 0.75 + (seq % 25) / 100 FROM seq_1_to_${items}`,
    );
  await store.run(
    `INSERT INTO item_people (item_id, hashes) SELECT seq, CONCAT(UNHEX(LEFT(MD5(seq), 16)), UNHEX(LEFT(MD5(seq + 1), 16)), UNHEX(LEFT(MD5(seq + 2), 16))) FROM seq_1_to_${items}`,
  );
  await store.run('INSERT INTO item_block (block, revision) SELECT DISTINCT id DIV 65536, 1 FROM item');
}
