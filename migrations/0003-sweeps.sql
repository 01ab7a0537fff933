-- Data goes to others for their own use: what a Global Privacy Control signal forbids.
ALTER TABLE purpose ADD COLUMN shares BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE purpose SET shares = TRUE WHERE code = 'advertising';

ALTER TABLE site
  ADD COLUMN scope JSON NULL,
  -- Where its sweeps come from, and so whose law holds.
  ADD COLUMN region VARCHAR(6) NOT NULL DEFAULT 'ZZ',
  -- Purposes that the visitor with a choice of its own allows.
  ADD COLUMN chosen JSON NOT NULL DEFAULT '["measurement"]',
  -- Recorded paths of clicks; secrets in them are encrypted.
  ADD COLUMN paths JSON NOT NULL DEFAULT '{}',
  ADD COLUMN schedule JSON NULL,
  ADD COLUMN next_sweep DATETIME(3) NULL,
  ADD KEY by_next_sweep (next_sweep);
UPDATE site SET scope = JSON_OBJECT('maxPages', max_pages, 'maxMinutes', max_minutes);
ALTER TABLE site MODIFY scope JSON NOT NULL, DROP COLUMN max_pages, DROP COLUMN max_minutes;

ALTER TABLE sweep
  ADD COLUMN scope JSON NULL,
  ADD COLUMN region VARCHAR(6) NOT NULL DEFAULT 'ZZ',
  ADD COLUMN chosen JSON NOT NULL DEFAULT '["measurement"]',
  ADD COLUMN origin ENUM('person', 'schedule') NOT NULL DEFAULT 'person',
  -- What each visitor did to make its choice, by visitor.
  ADD COLUMN operated JSON NOT NULL DEFAULT '{}',
  ADD COLUMN leaks INT UNSIGNED NOT NULL DEFAULT 0,
  -- What the difference from the sweep before needs a hand for, in words; empty where nothing.
  ADD COLUMN matters VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN matters_seen_by INT UNSIGNED NULL,
  ADD COLUMN usual_pages INT UNSIGNED NULL;
UPDATE sweep SET scope = JSON_OBJECT('maxPages', max_pages, 'maxMinutes', GREATEST(1, FLOOR(max_seconds / 60)));
ALTER TABLE sweep MODIFY scope JSON NOT NULL, DROP COLUMN max_pages, DROP COLUMN max_seconds;

-- The start page as each visitor saw it.
CREATE TABLE sweep_picture (
  sweep_id INT UNSIGNED NOT NULL,
  visitor VARCHAR(20) NOT NULL,
  jpeg MEDIUMBLOB NOT NULL,
  digest BINARY(32) NOT NULL,
  PRIMARY KEY (sweep_id, visitor),
  FOREIGN KEY (sweep_id) REFERENCES sweep (id) ON DELETE CASCADE
);

-- The report of a sweep as it ended, gzipped JSON; its digest stands in the ledger.
CREATE TABLE sweep_report (
  sweep_id INT UNSIGNED NOT NULL PRIMARY KEY,
  body LONGBLOB NOT NULL,
  digest BINARY(32) NOT NULL,
  ledger_id BIGINT UNSIGNED NOT NULL,
  FOREIGN KEY (sweep_id) REFERENCES sweep (id) ON DELETE CASCADE
);

ALTER TABLE swept_tracker
  MODIFY seen SMALLINT UNSIGNED NOT NULL,
  -- Visitors for whom the browser refused it.
  ADD COLUMN refused SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN leaks SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN purpose VARCHAR(31) NULL,
  ADD COLUMN cause VARCHAR(2000) NOT NULL DEFAULT '',
  ADD KEY by_leaks (sweep_id, leaks);
UPDATE swept_tracker s JOIN tracker t ON t.id = s.tracker_id LEFT JOIN purpose p ON p.code = t.purpose
  SET s.purpose = t.purpose, s.leaks = IF(t.purpose IS NOT NULL AND p.essential = 0, s.seen & 3, 0);

ALTER TABLE sighting
  ADD COLUMN moment VARCHAR(10) NOT NULL DEFAULT 'load',
  ADD COLUMN refused VARCHAR(300) NOT NULL DEFAULT '',
  -- Cookie attributes, alias, what it sends, whether blocking ends it, and the pages it was on.
  ADD COLUMN detail JSON NOT NULL DEFAULT '{}';

ALTER TABLE tracker
  -- SHA-256 of what makes it the same on another site: kind, name, and the host where that is another company's.
  ADD COLUMN shared BINARY(32) NULL,
  ADD KEY by_shared (shared, decided);
UPDATE tracker t JOIN site s ON s.id = t.site_id
  SET t.shared = UNHEX(SHA2(CONCAT(t.kind, '\n', IF(t.host = SUBSTRING_INDEX(s.host, ':', 1), '', t.host), '\n', t.name), 256));

-- What the organisation knows of trackers, on all its sites.
CREATE TABLE known_tracker (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(300) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  name_match ENUM('exact', 'wildcard', 'expression') NOT NULL,
  -- Empty for every kind.
  kind VARCHAR(20) NOT NULL DEFAULT '',
  domain VARCHAR(260) NOT NULL DEFAULT '',
  provider VARCHAR(120) NOT NULL DEFAULT '',
  purpose VARCHAR(31) NOT NULL,
  lifetime VARCHAR(60) NOT NULL DEFAULT '',
  texts JSON NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_identity (name, name_match, kind, domain),
  KEY by_purpose (purpose, id)
);

-- A fix of a leak, tried on a few pages before it is in force.
CREATE TABLE fix_trial (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  tracker_id INT UNSIGNED NOT NULL,
  fix ENUM('hold', 'mark', 'remove') NOT NULL,
  purpose VARCHAR(31) NOT NULL,
  state ENUM('running', 'done', 'failed') NOT NULL DEFAULT 'running',
  outcome JSON NULL,
  created_by INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  KEY by_tracker (tracker_id, id),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE,
  FOREIGN KEY (tracker_id) REFERENCES tracker (id) ON DELETE CASCADE
);

-- What the gate holds by itself until its purpose is allowed, whatever the page says.
CREATE TABLE gate_hold (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  tracker_id INT UNSIGNED NOT NULL,
  kind VARCHAR(20) NOT NULL,
  name VARCHAR(300) NOT NULL,
  host VARCHAR(260) NOT NULL,
  purpose VARCHAR(31) NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_tracker (site_id, tracker_id),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE,
  FOREIGN KEY (tracker_id) REFERENCES tracker (id) ON DELETE CASCADE
);
