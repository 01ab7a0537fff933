-- Things of one kind that handling rules name together: destinations, drives, printers …
CREATE TABLE named_group (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  content LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (JSON_VALID(content)),
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

CREATE TABLE device_group (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

-- What lets devices in: shown once, good for so many, until a day.
CREATE TABLE device_enrolment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash BINARY(32) NOT NULL,
  groups_json JSON NOT NULL,
  left_over INT UNSIGNED NOT NULL,
  until DATETIME(3) NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_token (token_hash)
);

CREATE TABLE device (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  -- Whose it is, as the list of staff calls them.
  person VARCHAR(254) NOT NULL,
  platform VARCHAR(60) NOT NULL,
  token_hash BINARY(32) NOT NULL,
  -- Channels that it can watch.
  can JSON NOT NULL,
  enrolled_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NULL,
  -- Number of the bundle of rules it said it has, and when it took it.
  bundle INT UNSIGNED NULL,
  bundle_at DATETIME(3) NULL,
  -- By how much its clock is ahead of ours.
  ahead_ms BIGINT NOT NULL DEFAULT 0,
  -- The last thing it could not do.
  trouble VARCHAR(200) NOT NULL DEFAULT '',
  ended_at DATETIME(3) NULL,
  UNIQUE KEY by_token (token_hash),
  KEY by_person (person),
  KEY by_seen (seen_at)
);

CREATE TABLE device_membership (
  device_id INT UNSIGNED NOT NULL,
  group_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (device_id, group_id),
  KEY by_group (group_id),
  FOREIGN KEY (device_id) REFERENCES device (id) ON DELETE CASCADE,
  FOREIGN KEY (group_id) REFERENCES device_group (id) ON DELETE CASCADE
);

-- Bundles of rules that devices take, the newest last; what did not change is not written again.
CREATE TABLE rule_bundle (
  number INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  digest BINARY(32) NOT NULL,
  -- What all devices get of it; of older ones it is let go.
  content LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL CHECK (JSON_VALID(content)),
  made_at DATETIME(3) NOT NULL
);

-- What people and programs did: findings and names, never what was in it.
CREATE TABLE activity_event (
  at DATETIME(3) NOT NULL,
  -- Of whoever tells of it: the same one twice is one.
  id BINARY(16) NOT NULL,
  taken_at DATETIME(3) NOT NULL,
  kind ENUM('device', 'mail', 'level', 'access', 'sign-in', 'source') NOT NULL,
  person VARCHAR(254) NOT NULL,
  act VARCHAR(20) NOT NULL,
  channel VARCHAR(20) NOT NULL DEFAULT '',
  device_id INT UNSIGNED NOT NULL DEFAULT 0,
  outcome ENUM('go', 'record', 'ask', 'stop') NOT NULL,
  answer ENUM('', 'went on', 'turned back', 'false alarm') NOT NULL DEFAULT '',
  -- The rule that decided; 0 where none held.
  rule_id INT UNSIGNED NOT NULL DEFAULT 0,
  level VARCHAR(64) NOT NULL DEFAULT '',
  detail LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (JSON_VALID(detail)),
  PRIMARY KEY (at, id),
  KEY by_person (person, at, id),
  KEY by_act (act, at, id),
  KEY by_channel (channel, at, id),
  KEY by_device (device_id, at, id),
  KEY by_outcome (outcome, at, id),
  KEY by_answer (answer, at, id),
  KEY by_rule (rule_id, at, id),
  KEY by_level (level, at, id),
  KEY by_kind (kind, at, id)
) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE));

-- Of which events something was recognised.
CREATE TABLE activity_finding (
  detector VARCHAR(80) NOT NULL,
  at DATETIME(3) NOT NULL,
  id BINARY(16) NOT NULL,
  matches INT UNSIGNED NOT NULL,
  PRIMARY KEY (detector, at, id)
) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE));

-- What devices told, by its number alone: sent again under another time, since their clock was set, it is still the same.
CREATE TABLE activity_told (
  device_id INT UNSIGNED NOT NULL,
  id BINARY(16) NOT NULL,
  -- Of the request that told it first.
  request BINARY(16) NOT NULL,
  taken_at DATETIME(3) NOT NULL,
  PRIMARY KEY (device_id, id),
  KEY by_time (taken_at)
);

-- How long what is told by each kind is kept, in days.
CREATE TABLE activity_kept (
  kind VARCHAR(20) NOT NULL PRIMARY KEY,
  days SMALLINT UNSIGNED NOT NULL
);

-- How many events are kept, counted as they come and go. One row.
CREATE TABLE activity_count (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  n BIGINT NOT NULL
);
INSERT INTO activity_count (id, n) VALUES (1, 0);
