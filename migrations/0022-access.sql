-- Where it is told who may do what: directories, libraries, folders, databases, files in the format of docs/estate.md.
CREATE TABLE access_source (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
  content JSON NOT NULL,
  secret TEXT NULL,
  -- What an estate file was taken in as.
  upload MEDIUMBLOB NULL,
  created_at DATETIME(3) NOT NULL,
  -- From when on it is known what stood when.
  known_since DATETIME(3) NULL,
  read_at DATETIME(3) NULL,
  tried_at DATETIME(3) NULL,
  -- Why it could not be read the last time.
  problem VARCHAR(500) NULL,
  -- What of it was left out, as JSON.
  faults JSON NOT NULL DEFAULT '[]',
  UNIQUE KEY by_name (name)
);

-- Counts up with everything that changes in the estate; one row, locked by who writes.
CREATE TABLE access_revision (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  revision BIGINT UNSIGNED NOT NULL
);
INSERT INTO access_revision (id, revision) VALUES (1, 0);

-- Lines of the estate as they stand and stood.
CREATE TABLE access_line (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  source_id INT UNSIGNED NOT NULL,
  kind ENUM('person', 'group', 'member', 'place', 'grant', 'link') NOT NULL,
  -- What makes it this line and no other, hashed.
  line_key BINARY(16) NOT NULL,
  digest BINARY(8) NOT NULL,
  content MEDIUMTEXT NOT NULL,
  -- Of places: where its items lie, as lenses name it.
  holds VARCHAR(1000) NULL,
  came BIGINT UNSIGNED NOT NULL,
  -- The revision with which it went; 0 for what stands.
  went BIGINT UNSIGNED NOT NULL DEFAULT 0,
  since DATETIME(3) NOT NULL,
  until DATETIME(3) NOT NULL DEFAULT '9999-12-31',
  UNIQUE KEY by_key (source_id, line_key, went),
  KEY by_came (came),
  KEY by_went (went, id),
  KEY by_kind (went, kind, source_id),
  KEY by_time (until, since),
  FOREIGN KEY (source_id) REFERENCES access_source (id) ON DELETE CASCADE
);

-- When somebody used a place last, where its source tells.
CREATE TABLE access_use (
  source_id INT UNSIGNED NOT NULL,
  place_key BINARY(9) NOT NULL,
  person_key BINARY(9) NOT NULL,
  day DATE NOT NULL,
  PRIMARY KEY (place_key, person_key),
  KEY by_source (source_id),
  KEY by_day (day)
);

-- What was given and taken away, when, and by whom.
CREATE TABLE access_event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
  at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  source_id INT UNSIGNED NOT NULL,
  kind ENUM('grant', 'link', 'member', 'inherits', 'owner', 'person') NOT NULL,
  act ENUM('add', 'take', 'set') NOT NULL,
  -- Keys of all places above, then its own; empty for what is at no place.
  trail VARBINARY(540) NOT NULL DEFAULT '',
  place VARCHAR(420) NOT NULL DEFAULT '',
  place_name VARCHAR(500) NOT NULL DEFAULT '',
  -- Whom it is about: a person, a group, everyone, or who has a link.
  who VARCHAR(420) NOT NULL DEFAULT '',
  who_key BINARY(9) NULL,
  who_name VARCHAR(500) NOT NULL DEFAULT '',
  strength VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT '',
  initiator VARCHAR(200) NOT NULL DEFAULT '',
  change_id INT UNSIGNED NULL,
  words VARCHAR(1000) NOT NULL,
  PRIMARY KEY (id, at),
  KEY by_time (at, id),
  KEY by_trail (trail(180), at),
  KEY by_who (who_key, at),
  KEY by_initiator (initiator(60), at),
  KEY by_change (change_id)
) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE));

-- Places at which, and below which, changes are kept.
CREATE TABLE access_watch (
  place VARCHAR(420) NOT NULL,
  place_key BINARY(9) NOT NULL PRIMARY KEY,
  trail VARBINARY(540) NOT NULL,
  days SMALLINT UNSIGNED NOT NULL,
  since DATETIME(3) NOT NULL
);

-- Changes of access as values.
CREATE TABLE access_change (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  reason VARCHAR(1000) NOT NULL DEFAULT '',
  steps MEDIUMTEXT NOT NULL,
  state ENUM('draft', 'running', 'done', 'partly', 'dropped') NOT NULL DEFAULT 'draft',
  undoes INT UNSIGNED NULL,
  review_id INT UNSIGNED NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  begun_by INT UNSIGNED NULL,
  begun_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  run_id BIGINT UNSIGNED NULL,
  KEY by_state (state, id),
  KEY by_undoes (undoes)
);

CREATE TABLE access_step (
  change_id INT UNSIGNED NOT NULL,
  n INT UNSIGNED NOT NULL,
  source_id INT UNSIGNED NOT NULL,
  -- Ordered: its source takes no changes from here; whoever owns it was asked to do it.
  state ENUM('waiting', 'begun', 'done', 'already', 'failed', 'ordered') NOT NULL DEFAULT 'waiting',
  words VARCHAR(1000) NOT NULL,
  told VARCHAR(500) NOT NULL DEFAULT '',
  at DATETIME(3) NULL,
  PRIMARY KEY (change_id, n),
  KEY by_state (change_id, source_id, state, n),
  KEY by_ordered (state, source_id),
  FOREIGN KEY (change_id) REFERENCES access_change (id) ON DELETE CASCADE
);

-- Where more is open than is used, and what else is too broad; counted anew as a whole.
CREATE TABLE access_finding (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  round BIGINT UNSIGNED NOT NULL,
  kind VARCHAR(30) CHARACTER SET ascii NOT NULL,
  weight DOUBLE NOT NULL,
  place VARCHAR(420) NOT NULL DEFAULT '',
  place_key BINARY(9) NULL,
  who VARCHAR(420) NOT NULL DEFAULT '',
  who_key BINARY(9) NULL,
  name VARCHAR(500) NOT NULL,
  detail JSON NOT NULL,
  KEY by_weight (kind, weight, id),
  KEY by_all (weight, id),
  KEY by_place (place_key, kind)
);

CREATE TABLE access_finding_round (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  round BIGINT UNSIGNED NOT NULL,
  revision BIGINT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  counted_at DATETIME(3) NOT NULL,
  counts JSON NOT NULL
);

-- Campaigns in which owners say what may stay.
CREATE TABLE access_review (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  scope JSON NOT NULL,
  due DATE NOT NULL,
  state ENUM('open', 'done', 'dropped') NOT NULL DEFAULT 'open',
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  change_id INT UNSIGNED NULL,
  KEY by_state (state, due)
);

CREATE TABLE access_review_line (
  review_id INT UNSIGNED NOT NULL,
  n INT UNSIGNED NOT NULL,
  place VARCHAR(420) NOT NULL,
  -- The grant or link that is asked about.
  line MEDIUMTEXT NOT NULL,
  who VARCHAR(420) NOT NULL,
  -- Address of who is asked.
  owner VARCHAR(254) NOT NULL,
  answer ENUM('keep', 'take') NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  said_by VARCHAR(254) NULL,
  said_at DATETIME(3) NULL,
  told_at DATETIME(3) NULL,
  reminded_at DATETIME(3) NULL,
  PRIMARY KEY (review_id, n),
  KEY by_owner (owner, review_id, answer),
  FOREIGN KEY (review_id) REFERENCES access_review (id) ON DELETE CASCADE
);

-- What nobody may have together: two things that need two pairs of hands.
CREATE TABLE access_hands_rule (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  content JSON NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);
