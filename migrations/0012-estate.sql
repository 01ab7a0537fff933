-- What an organisation runs that holds personal data; edited as it stands.
CREATE TABLE data_system (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

-- Where the data of a system lies.
CREATE TABLE source (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  system_id INT UNSIGNED NULL,
  name VARCHAR(120) NOT NULL,
  kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
  content JSON NOT NULL,
  -- Sealed; never read by the desk again.
  secret TEXT NULL,
  -- The latest try to reach it.
  health JSON NULL,
  read_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name),
  KEY by_system (system_id, id),
  FOREIGN KEY (system_id) REFERENCES data_system (id)
);

CREATE TABLE place (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  source_id INT UNSIGNED NOT NULL,
  parent_id BIGINT UNSIGNED NULL,
  -- SHA-256 of the path, cut.
  hash BINARY(16) NOT NULL,
  -- Steps from the source down, separated by /; the source itself is ''.
  path TEXT NOT NULL,
  -- The run that saw it last.
  seen_run BIGINT UNSIGNED NOT NULL DEFAULT 0,
  problem VARCHAR(400) NULL,
  UNIQUE KEY by_path (source_id, hash),
  KEY by_parent (source_id, parent_id),
  KEY by_seen (source_id, seen_run),
  FOREIGN KEY (source_id) REFERENCES source (id) ON DELETE CASCADE
);

CREATE TABLE item (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  source_id INT UNSIGNED NOT NULL,
  place_id BIGINT UNSIGNED NOT NULL,
  name_hash BINARY(16) NOT NULL,
  -- What the source knows it by, and what people know it by where that differs.
  name TEXT NOT NULL,
  title VARCHAR(400) NULL,
  size BIGINT UNSIGNED NOT NULL,
  created_at DATETIME(3) NULL,
  changed_at DATETIME(3) NULL,
  owner VARCHAR(120) NOT NULL DEFAULT '',
  -- As the source marks a version; what differs from it was changed.
  version VARCHAR(120) NOT NULL,
  content_hash BINARY(32) NULL,
  -- What detectors it was read with; see reading.
  reading_id INT UNSIGNED NULL,
  read_at DATETIME(3) NULL,
  state ENUM('read', 'unreadable', 'gone') NOT NULL,
  problem VARCHAR(600) NULL,
  format VARCHAR(40) NOT NULL DEFAULT '',
  -- The likeness or learned detector that says most surely what kind of document it is.
  document VARCHAR(64) CHARACTER SET ascii NULL,
  document_confidence DOUBLE NULL,
  people INT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY by_name (place_id, name_hash),
  KEY by_source (source_id, state, id),
  FOREIGN KEY (place_id) REFERENCES place (id) ON DELETE CASCADE
);

-- Which detectors, in which versions, items were read with.
CREATE TABLE reading (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  digest BINARY(32) NOT NULL,
  detectors JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_digest (digest)
);

-- What one detector found in one item.
CREATE TABLE finding (
  item_id BIGINT UNSIGNED NOT NULL,
  detector VARCHAR(64) CHARACTER SET ascii NOT NULL,
  -- Found by a version that is only rehearsed; those do not count.
  rehearsed TINYINT UNSIGNED NOT NULL DEFAULT 0,
  version INT UNSIGNED NOT NULL,
  matches INT UNSIGNED NOT NULL,
  distinct_values INT UNSIGNED NOT NULL,
  confidence DOUBLE NOT NULL,
  PRIMARY KEY (item_id, rehearsed, detector),
  KEY by_detector (detector, rehearsed, item_id),
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- The first matches of a finding, masked.
CREATE TABLE finding_match (
  item_id BIGINT UNSIGNED NOT NULL,
  detector VARCHAR(64) CHARACTER SET ascii NOT NULL,
  rehearsed TINYINT UNSIGNED NOT NULL DEFAULT 0,
  number INT UNSIGNED NOT NULL,
  -- Keyed; zeros where a detector says it of the whole item.
  value_hash BINARY(16) NOT NULL,
  masked VARCHAR(200) NOT NULL,
  confidence DOUBLE NOT NULL,
  content JSON NOT NULL,
  PRIMARY KEY (item_id, rehearsed, detector, number),
  KEY by_detector (detector, rehearsed, item_id),
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- Keyed hashes of the people in an item, 8 bytes each, in order.
CREATE TABLE item_people (
  item_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  hashes MEDIUMBLOB NOT NULL,
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- Whether a person says that a match is right. Outlives new readings.
CREATE TABLE judgement (
  item_id BIGINT UNSIGNED NOT NULL,
  detector VARCHAR(64) CHARACTER SET ascii NOT NULL,
  value_hash BINARY(16) NOT NULL,
  holds TINYINT UNSIGNED NOT NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  version INT UNSIGNED NOT NULL,
  judged_by INT UNSIGNED NOT NULL,
  judged_at DATETIME(3) NOT NULL,
  PRIMARY KEY (item_id, detector, value_hash),
  KEY by_detector (detector, judged_at),
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- Blocks of 65,536 items that changed; the index of lenses reads those again.
CREATE TABLE item_block (
  block INT UNSIGNED NOT NULL PRIMARY KEY,
  revision BIGINT UNSIGNED NOT NULL DEFAULT 1
);

CREATE TABLE lens (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

-- A survey as it was asked for; what it takes and comes to is its run.
CREATE TABLE survey (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  -- The latest run of it.
  run_id BIGINT UNSIGNED NULL,
  next_run DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name),
  KEY by_next (next_run)
);

-- The index of lenses, as it was built at a revision of its block.
CREATE TABLE lens_block (
  block INT UNSIGNED NOT NULL PRIMARY KEY,
  revision BIGINT UNSIGNED NOT NULL,
  content LONGBLOB NOT NULL
);
