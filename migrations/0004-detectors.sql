-- Detectors of the organisation's own: rules like any other.
CREATE TABLE detector (
  id VARCHAR(64) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  kind VARCHAR(10) NOT NULL,
  content JSON NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  stage JSON NOT NULL,
  last_version INT UNSIGNED NOT NULL DEFAULT 0,
  -- The built-in detector it began as a copy of; empty where it did not.
  copied_from VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '',
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL
);

CREATE TABLE detector_version (
  detector_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  version INT UNSIGNED NOT NULL,
  content JSON NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  PRIMARY KEY (detector_id, version),
  FOREIGN KEY (detector_id) REFERENCES detector (id) ON DELETE CASCADE
);

-- What a likeness or learned detector is made from. Bodies are encrypted.
CREATE TABLE detector_text (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  detector_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  role ENUM('template', 'example', 'counter-example') NOT NULL,
  name VARCHAR(260) NOT NULL,
  body LONGTEXT CHARACTER SET ascii NOT NULL,
  digest BINARY(32) NOT NULL,
  -- UTF-16 units of the text.
  units INT UNSIGNED NOT NULL,
  -- A verdict is a person's answer to what the detector said.
  origin ENUM('file', 'verdict') NOT NULL,
  -- Of the last training, by a model that had not seen it.
  score DOUBLE NULL,
  added_by INT UNSIGNED NULL,
  added_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_digest (detector_id, digest),
  KEY by_role (detector_id, role, id),
  FOREIGN KEY (detector_id) REFERENCES detector (id) ON DELETE CASCADE
);

-- A roster as it was built from a table: keyed hashes only.
CREATE TABLE roster_build (
  detector_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  number INT UNSIGNED NOT NULL,
  -- The columns it was built with; a version uses the newest build of its own columns.
  columns_digest BINARY(32) NOT NULL,
  -- Key of its hashes, encrypted.
  hash_key VARCHAR(200) CHARACTER SET ascii NOT NULL,
  -- What the table held and how much of it can be met.
  coverage JSON NOT NULL,
  source VARCHAR(260) NOT NULL,
  built_by INT UNSIGNED NULL,
  built_at DATETIME(3) NOT NULL,
  PRIMARY KEY (detector_id, number),
  FOREIGN KEY (detector_id) REFERENCES detector (id) ON DELETE CASCADE
);

CREATE TABLE roster_part (
  detector_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  number INT UNSIGNED NOT NULL,
  part SMALLINT UNSIGNED NOT NULL,
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (detector_id, number, part),
  FOREIGN KEY (detector_id, number) REFERENCES roster_build (detector_id, number) ON DELETE CASCADE
);

-- A training of a learned detector: its model and its figures, gzipped JSON.
CREATE TABLE training (
  detector_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  number INT UNSIGNED NOT NULL,
  model MEDIUMBLOB NOT NULL,
  figures MEDIUMBLOB NOT NULL,
  trained_by INT UNSIGNED NULL,
  trained_at DATETIME(3) NOT NULL,
  PRIMARY KEY (detector_id, number),
  FOREIGN KEY (detector_id) REFERENCES detector (id) ON DELETE CASCADE
);

-- A file on its way to a job, encrypted, gone once it was read.
CREATE TABLE upload (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(260) NOT NULL,
  size INT UNSIGNED NOT NULL,
  owner INT UNSIGNED NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  KEY by_time (begun_at)
);

CREATE TABLE upload_part (
  upload_id BIGINT UNSIGNED NOT NULL,
  part INT UNSIGNED NOT NULL,
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (upload_id, part),
  FOREIGN KEY (upload_id) REFERENCES upload (id) ON DELETE CASCADE
);

-- Texts whose personal data a person marked, to hold detectors against. Bodies are encrypted.
CREATE TABLE labelled_set (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

CREATE TABLE labelled_text (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  set_id INT UNSIGNED NOT NULL,
  name VARCHAR(260) NOT NULL,
  body LONGTEXT CHARACTER SET ascii NOT NULL,
  marks JSON NOT NULL,
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  changed_by INT UNSIGNED NULL,
  changed_at DATETIME(3) NOT NULL,
  KEY by_set (set_id, id),
  FOREIGN KEY (set_id) REFERENCES labelled_set (id) ON DELETE CASCADE
);
