-- What is changed at the desk is part of what is watched.
ALTER TABLE activity_event
  MODIFY kind ENUM('device', 'mail', 'level', 'access', 'sign-in', 'source', 'desk') NOT NULL,
  MODIFY answer ENUM('', 'went on', 'turned back', 'false alarm', 'asked the officer') NOT NULL DEFAULT '';

-- How long a rule keeps an event, in days; NULL where its kind says it.
ALTER TABLE activity_event ADD COLUMN keep_days SMALLINT UNSIGNED NULL, ADD KEY by_keep (keep_days, at);

-- How far the desk told of what its ledger sealed: the tree, and the place in it.
CREATE TABLE activity_feed (
  feed VARCHAR(20) NOT NULL PRIMARY KEY,
  tree BIGINT UNSIGNED NOT NULL,
  tree_index INT NOT NULL
);
INSERT INTO activity_feed (feed, tree, tree_index) VALUES ('ledger', 0, -1);

-- Events that lookouts have still to see: those of one request together, as pairs of time and number.
CREATE TABLE activity_batch (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  taken_at DATETIME(3) NOT NULL,
  events LONGTEXT CHARACTER SET ascii NOT NULL CHECK (JSON_VALID(events))
);

-- The version of each lookout that sees now.
CREATE TABLE lookout_sight (
  lookout VARCHAR(64) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  version INT UNSIGNED NOT NULL
);

-- What lookouts that count remember.
CREATE TABLE lookout_seen (
  lookout VARCHAR(64) CHARACTER SET ascii NOT NULL,
  event_key VARCHAR(254) NOT NULL,
  at DATETIME(3) NOT NULL,
  id BINARY(16) NOT NULL,
  -- It led to something that was raised.
  used TINYINT(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (lookout, event_key, at, id),
  KEY by_time (lookout, at)
);

CREATE TABLE alert (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  lookout VARCHAR(64) CHARACTER SET ascii NOT NULL,
  -- What raised it: a lookout, or a handling rule by its number.
  by_kind VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT 'lookout',
  version INT UNSIGNED NOT NULL,
  severity ENUM('low', 'medium', 'high') NOT NULL,
  category VARCHAR(40) NOT NULL,
  -- Whose acts they are.
  event_key VARCHAR(254) NOT NULL,
  raised_at DATETIME(3) NOT NULL,
  last_at DATETIME(3) NOT NULL,
  acts INT UNSIGNED NOT NULL,
  because VARCHAR(400) NOT NULL,
  state ENUM('new', 'looked into', 'solved', 'set aside') NOT NULL DEFAULT 'new',
  note VARCHAR(1000) NOT NULL DEFAULT '',
  assigned_to INT UNSIGNED NULL,
  ended_at DATETIME(3) NULL,
  -- The first alert of those that an act has in common.
  cause INT UNSIGNED NOT NULL DEFAULT 0,
  -- When somebody is to be told; NULL where that is done.
  tell_at DATETIME(3) NULL,
  KEY by_last (last_at, id),
  KEY by_state (state, last_at, id),
  KEY by_lookout (by_kind, lookout, event_key, state, last_at),
  KEY by_key (event_key, last_at),
  KEY by_cause (cause),
  KEY by_assigned (assigned_to, last_at),
  KEY by_telling (tell_at)
);

CREATE TABLE alert_event (
  alert_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  id BINARY(16) NOT NULL,
  PRIMARY KEY (alert_id, at, id),
  KEY by_event (id),
  FOREIGN KEY (alert_id) REFERENCES alert (id) ON DELETE CASCADE
);

CREATE TABLE alert_step (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  alert_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  by_account INT UNSIGNED NULL,
  words VARCHAR(1000) NOT NULL,
  KEY by_alert (alert_id, id),
  FOREIGN KEY (alert_id) REFERENCES alert (id) ON DELETE CASCADE
);

-- How often a lookout told somebody, by day.
CREATE TABLE lookout_told (
  lookout VARCHAR(64) CHARACTER SET ascii NOT NULL,
  day DATE NOT NULL,
  n INT UNSIGNED NOT NULL,
  PRIMARY KEY (lookout, day)
);

-- Webhooks that lookouts can call.
CREATE TABLE alert_hook (
  hook INT UNSIGNED NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL UNIQUE
);

-- What somebody asked the officer from where they were stopped.
CREATE TABLE handling_question (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  event_at DATETIME(3) NOT NULL,
  event_id BINARY(16) NOT NULL,
  device_id INT UNSIGNED NOT NULL,
  person VARCHAR(254) NOT NULL,
  rule_id VARCHAR(20) CHARACTER SET ascii NOT NULL,
  words VARCHAR(400) NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  -- NULL while it is open.
  allowed TINYINT(1) NULL,
  answer VARCHAR(400) NOT NULL DEFAULT '',
  -- They are let by until then.
  until DATETIME(3) NULL,
  answered_by INT UNSIGNED NULL,
  answered_at DATETIME(3) NULL,
  UNIQUE KEY by_event (event_id, device_id),
  KEY by_open (allowed, asked_at),
  KEY by_device (device_id, answered_at),
  KEY by_person (person, until)
);

-- What was kept of data in motion: sealed on the device, for the desk.
CREATE TABLE kept_evidence (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  what ENUM('copy', 'quarantine') NOT NULL,
  event_at DATETIME(3) NOT NULL,
  event_id BINARY(16) NOT NULL,
  device_id INT UNSIGNED NOT NULL,
  person VARCHAR(254) NOT NULL,
  rule_id VARCHAR(20) CHARACTER SET ascii NOT NULL,
  name VARCHAR(400) NOT NULL,
  size INT UNSIGNED NOT NULL,
  openers LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (JSON_VALID(openers)),
  state ENUM('kept', 'giving back', 'given back', 'deleted') NOT NULL DEFAULT 'kept',
  -- As the device sealed it; NULL once it is given back or deleted.
  body LONGBLOB NULL,
  kept_at DATETIME(3) NOT NULL,
  keep_until DATETIME(3) NOT NULL,
  UNIQUE KEY by_event (event_id, device_id),
  KEY by_kept (kept_at, id),
  KEY by_state (state, kept_at, id),
  KEY by_person (person, kept_at, id),
  KEY by_end (state, keep_until),
  KEY by_device (device_id, state)
);
