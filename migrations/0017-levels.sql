-- Which levels are stronger: the more, the stronger. What a level is stands with its rule.
CREATE TABLE level_rank (
  level VARCHAR(64) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  strength INT UNSIGNED NOT NULL,
  UNIQUE KEY by_strength (strength)
);

-- The level that an item has.
CREATE TABLE item_level (
  item_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  level VARCHAR(64) CHARACTER SET ascii NOT NULL,
  -- hand, document, or rule: and the id of the rule.
  set_by VARCHAR(80) CHARACTER SET ascii NOT NULL,
  account_id INT UNSIGNED NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  set_at DATETIME(3) NOT NULL,
  -- Why it does not stand on the document itself; NULL where it does.
  unstamped VARCHAR(400) NULL,
  -- SHA-256 of the document as it was stamped.
  stamped_hash BINARY(32) NULL,
  -- Its document lost the marking, or says a weaker level: it is stamped anew.
  lost TINYINT UNSIGNED NOT NULL DEFAULT 0,
  KEY by_level (level, item_id),
  KEY by_lost (lost, item_id),
  KEY by_rule (set_by, item_id),
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- What a run did to an item, or is about to do.
CREATE TABLE level_step (
  run_id BIGINT UNSIGNED NOT NULL,
  item_id BIGINT UNSIGNED NOT NULL,
  -- Begun: its document may be the old one or the new one, and nothing else.
  state ENUM('begun', 'stamped', 'noted', 'refused', 'undone', 'left') NOT NULL,
  level_before VARCHAR(64) CHARACTER SET ascii NULL,
  before_set_by VARCHAR(80) CHARACTER SET ascii NULL,
  level_after VARCHAR(64) CHARACTER SET ascii NULL,
  hash_before BINARY(32) NULL,
  hash_after BINARY(32) NULL,
  copy_id BIGINT UNSIGNED NULL,
  why VARCHAR(400) NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (run_id, item_id),
  KEY by_item (item_id, run_id),
  KEY by_copy (copy_id),
  FOREIGN KEY (run_id) REFERENCES run (id) ON DELETE CASCADE
);

-- Documents as they were before they were changed, until they are let go.
CREATE TABLE kept_copy (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  hash BINARY(32) NOT NULL,
  size BIGINT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL,
  keep_until DATETIME(3) NOT NULL,
  KEY by_end (keep_until)
);

CREATE TABLE kept_copy_part (
  copy_id BIGINT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  content MEDIUMBLOB NOT NULL,
  PRIMARY KEY (copy_id, number),
  FOREIGN KEY (copy_id) REFERENCES kept_copy (id) ON DELETE CASCADE
);

-- Blocks were built without levels.
DELETE FROM lens_block;

-- How levels are set by themselves; one row.
CREATE TABLE level_policy (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL,
  -- Surveys that ended up to then have been looked at.
  looked_at DATETIME(3) NULL,
  -- The same, for markings that were lost.
  lost_looked_at DATETIME(3) NULL
);
INSERT INTO level_policy (id, content) VALUES (1, '{"byItself":"never","keepDays":30}');
