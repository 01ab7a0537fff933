CREATE TABLE purpose (
  code VARCHAR(31) NOT NULL PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  essential BOOLEAN NOT NULL DEFAULT FALSE,
  place TINYINT UNSIGNED NOT NULL
);

INSERT INTO purpose (code, name, essential, place) VALUES
  ('essential', 'Essential', TRUE, 1),
  ('preferences', 'Preferences', FALSE, 2),
  ('measurement', 'Measurement', FALSE, 3),
  ('advertising', 'Advertising', FALSE, 4);

CREATE TABLE site (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  -- Host with its port where that is not the scheme's own.
  host VARCHAR(260) NOT NULL UNIQUE,
  start_url VARCHAR(2000) NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- Public: stands in the address of the site's script.
  site_key CHAR(20) NOT NULL UNIQUE,
  -- Limits of its sweeps.
  max_pages INT UNSIGNED NOT NULL DEFAULT 250,
  max_minutes INT UNSIGNED NOT NULL DEFAULT 30,
  install JSON NULL,
  created_at DATETIME(3) NOT NULL,
  created_by INT UNSIGNED NULL
);

CREATE TABLE sweep (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  job_id BIGINT UNSIGNED NULL,
  state ENUM('waiting', 'running', 'complete', 'cancelled', 'failed') NOT NULL,
  visitors JSON NOT NULL,
  max_pages INT UNSIGNED NOT NULL,
  max_seconds INT UNSIGNED NOT NULL,
  pages INT UNSIGNED NOT NULL DEFAULT 0,
  trackers INT UNSIGNED NOT NULL DEFAULT 0,
  -- What was found out of the ordinary, as the officer reads it.
  notes JSON NOT NULL,
  started_by INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  started_at DATETIME(3) NULL,
  finished_at DATETIME(3) NULL,
  KEY by_site (site_id, id),
  KEY by_job (job_id),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

CREATE TABLE sweep_page (
  sweep_id INT UNSIGNED NOT NULL,
  visitor VARCHAR(20) NOT NULL,
  number INT UNSIGNED NOT NULL,
  url VARCHAR(2000) NOT NULL,
  status SMALLINT UNSIGNED NULL,
  note VARCHAR(300) NOT NULL DEFAULT '',
  PRIMARY KEY (sweep_id, visitor, number),
  FOREIGN KEY (sweep_id) REFERENCES sweep (id) ON DELETE CASCADE
);

CREATE TABLE tracker (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  -- SHA-256 of kind, host and name.
  identity BINARY(32) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  name VARCHAR(300) NOT NULL,
  host VARCHAR(260) NOT NULL,
  proposed VARCHAR(31) NULL,
  proposal JSON NOT NULL,
  decided VARCHAR(31) NULL,
  decided_by INT UNSIGNED NULL,
  decided_at DATETIME(3) NULL,
  -- Why a person called it essential.
  because VARCHAR(500) NULL,
  purpose VARCHAR(31) AS (COALESCE(decided, proposed)) PERSISTENT,
  first_seen DATETIME(3) NOT NULL,
  last_seen DATETIME(3) NOT NULL,
  UNIQUE KEY by_identity (site_id, identity),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

-- A tracker in a sweep, over all its visitors.
CREATE TABLE swept_tracker (
  sweep_id INT UNSIGNED NOT NULL,
  tracker_id INT UNSIGNED NOT NULL,
  -- One bit a visitor, in the order of the sweep's visitors.
  seen TINYINT UNSIGNED NOT NULL,
  party VARCHAR(6) NOT NULL,
  lifetime BIGINT NULL,
  pages INT UNSIGNED NOT NULL,
  PRIMARY KEY (sweep_id, tracker_id),
  KEY by_tracker (tracker_id, sweep_id),
  FOREIGN KEY (sweep_id) REFERENCES sweep (id) ON DELETE CASCADE,
  FOREIGN KEY (tracker_id) REFERENCES tracker (id) ON DELETE CASCADE
);

CREATE TABLE sighting (
  sweep_id INT UNSIGNED NOT NULL,
  tracker_id INT UNSIGNED NOT NULL,
  visitor VARCHAR(20) NOT NULL,
  pages INT UNSIGNED NOT NULL,
  first_page VARCHAR(2000) NOT NULL,
  party VARCHAR(6) NOT NULL,
  lifetime BIGINT NULL,
  set_by VARCHAR(10) NOT NULL,
  value_length INT UNSIGNED NOT NULL,
  value_bits INT UNSIGNED NOT NULL,
  cause JSON NOT NULL,
  resource VARCHAR(30) NOT NULL,
  PRIMARY KEY (sweep_id, tracker_id, visitor),
  FOREIGN KEY (sweep_id, tracker_id) REFERENCES swept_tracker (sweep_id, tracker_id) ON DELETE CASCADE
);

CREATE TABLE notice (
  site_id INT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL,
  -- Counts every saved edit, so that a second editor is told.
  revision INT UNSIGNED NOT NULL,
  stage JSON NOT NULL,
  last_version INT UNSIGNED NOT NULL DEFAULT 0,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL,
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

CREATE TABLE notice_version (
  site_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  content JSON NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  PRIMARY KEY (site_id, version),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

CREATE TABLE consent_record (
  -- UUIDv7: its first 48 bits are the time.
  id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  site_id INT UNSIGNED NOT NULL,
  notice_version INT UNSIGNED NOT NULL,
  choice ENUM('allowed all', 'allowed some', 'refused all') NOT NULL,
  act ENUM('first', 'repeated', 'changed', 'withdrawn') NOT NULL,
  asked VARCHAR(400) NOT NULL,
  allowed VARCHAR(400) NOT NULL,
  language VARCHAR(20) NOT NULL,
  region VARCHAR(6) NOT NULL,
  address VARCHAR(45) NOT NULL,
  visitor_key BINARY(16) NOT NULL,
  ledger_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (at, id),
  KEY by_id (id),
  KEY by_site (site_id, at, id),
  KEY by_choice (site_id, choice, at, id),
  KEY by_region (site_id, region, at, id),
  KEY by_version (site_id, notice_version, at, id),
  KEY by_visitor (visitor_key, at)
) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE));
