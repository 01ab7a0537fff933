-- Where days are told, and from how many items on two people agree; one row. Whoever lets an item go holds it in share, and
-- whoever places a hold or makes an exception alone.
CREATE TABLE retention_policy (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL,
  -- Of all that what was gathered last came from.
  gathered_from CHAR(64) CHARACTER SET ascii NULL
);
INSERT INTO retention_policy (id, content) VALUES (1, '{"zone":"UTC","large":100,"special":{"fact":"data","is":"one of","values":["health-condition","sick-leave","disability","medication","religious-belief","political-opinion","trade-union","ethnic-origin","sexual-life","biometric-data","genetic-data","criminal-offence","child","child-age"]}}');

-- What terms are counted from besides the day an item was created or changed.
CREATE TABLE retention_clock (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  -- Counts changes of its list, and of what it says.
  revision INT UNSIGNED NOT NULL DEFAULT 1,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

-- The days of a clock that is a list, by what names of items hold.
CREATE TABLE clock_day (
  clock_id INT UNSIGNED NOT NULL,
  -- In plain letters and digits, parted by spaces.
  mark VARCHAR(160) COLLATE utf8mb4_nopad_bin NOT NULL,
  day DATE NOT NULL,
  PRIMARY KEY (clock_id, mark),
  FOREIGN KEY (clock_id) REFERENCES retention_clock (id) ON DELETE CASCADE
);

-- What a clock tells of an item.
CREATE TABLE item_clock (
  clock_id INT UNSIGNED NOT NULL,
  item_id BIGINT UNSIGNED NOT NULL,
  -- NULL where it is looked for and not found.
  day DATE NULL,
  -- Of the item and of the clock as they were when it was looked for.
  seen BINARY(16) NOT NULL,
  PRIMARY KEY (clock_id, item_id),
  KEY by_item (item_id),
  FOREIGN KEY (clock_id) REFERENCES retention_clock (id) ON DELETE CASCADE,
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- Up to which revision a clock has looked at a block of items.
CREATE TABLE clock_block (
  clock_id INT UNSIGNED NOT NULL,
  block INT UNSIGNED NOT NULL,
  revision BIGINT UNSIGNED NOT NULL,
  clock_revision INT UNSIGNED NOT NULL,
  PRIMARY KEY (clock_id, block),
  FOREIGN KEY (clock_id) REFERENCES retention_clock (id) ON DELETE CASCADE
);

-- Longer or shorter for some items, by hand.
CREATE TABLE retention_exception (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  content JSON NOT NULL,
  reason VARCHAR(400) NOT NULL,
  -- The last day on which it stands; NULL for good.
  until DATE NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  KEY by_end (ended_at, until)
);

CREATE TABLE retention_exception_item (
  item_id BIGINT UNSIGNED NOT NULL,
  exception_id BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (item_id, exception_id),
  KEY by_exception (exception_id, item_id),
  FOREIGN KEY (exception_id) REFERENCES retention_exception (id) ON DELETE CASCADE,
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE
);

-- What a rule came to on a day: counted, and as sets of items.
CREATE TABLE retention_day (
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  day DATE NOT NULL,
  version INT UNSIGNED NOT NULL,
  counts JSON NOT NULL,
  due MEDIUMBLOB NOT NULL,
  -- What would be due on the day after if nothing but the day changed.
  due_next MEDIUMBLOB NOT NULL,
  PRIMARY KEY (rule_id, day),
  KEY by_day (day)
);

CREATE TABLE hold_day (
  hold_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  day DATE NOT NULL,
  covers INT UNSIGNED NOT NULL,
  keeps INT UNSIGNED NOT NULL,
  PRIMARY KEY (hold_id, day),
  KEY by_day (day)
);

-- Whom a hold was told, and whether they said that they know.
CREATE TABLE hold_notice (
  hold_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  address VARCHAR(254) NOT NULL,
  told_at DATETIME(3) NULL,
  reminded_at DATETIME(3) NULL,
  times INT UNSIGNED NOT NULL DEFAULT 0,
  known_at DATETIME(3) NULL,
  released_at DATETIME(3) NULL,
  PRIMARY KEY (hold_id, address),
  KEY by_word (known_at, reminded_at)
);

-- Items that a rule lets go together: asked about, agreed to, let go, proved.
CREATE TABLE disposal (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  -- '' where a law alone has them end.
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  rule_version INT UNSIGNED NOT NULL,
  rule_name VARCHAR(200) NOT NULL,
  follows ENUM('ask', 'delete', 'archive', 'anonymise') NOT NULL,
  -- Whoever is asked; NULL where nobody known owns them.
  staff_id INT UNSIGNED NULL,
  owner VARCHAR(120) NOT NULL,
  state ENUM('asked', 'agreed', 'running', 'done', 'refused') NOT NULL,
  -- How many people have to agree, and why two.
  needed TINYINT UNSIGNED NOT NULL,
  why_needed VARCHAR(200) NOT NULL DEFAULT '',
  answer_by DATETIME(3) NULL,
  silent ENUM('officer', 'delete', 'keep') NOT NULL,
  undo_days SMALLINT UNSIGNED NOT NULL,
  items INT UNSIGNED NOT NULL DEFAULT 0,
  made_at DATETIME(3) NOT NULL,
  told_at DATETIME(3) NULL,
  agreed_at DATETIME(3) NULL,
  run_id BIGINT UNSIGNED NULL,
  ended_at DATETIME(3) NULL,
  certificate LONGTEXT NULL,
  KEY by_state (state, answer_by),
  KEY by_rule (rule_id, id),
  KEY by_staff (staff_id, state)
);

CREATE TABLE disposal_item (
  disposal_id BIGINT UNSIGNED NOT NULL,
  item_id BIGINT UNSIGNED NOT NULL,
  source_id INT UNSIGNED NOT NULL,
  -- Begun: it may be there still, or gone. Aside: gone from its source, and kept for as long as it can be put back.
  state ENUM('waiting', 'kept', 'begun', 'aside', 'gone', 'failed', 'back') NOT NULL,
  -- An item stands in one open disposal.
  open_item BIGINT UNSIGNED AS (IF(state IN ('waiting', 'begun'), item_id, NULL)) PERSISTENT,
  goes DATE NOT NULL,
  size BIGINT UNSIGNED NOT NULL DEFAULT 0,
  hash BINARY(32) NULL,
  -- Of the worker that began it: another settles it, and this one finds it no longer its own.
  claim BINARY(16) NULL,
  copy_id BIGINT UNSIGNED NULL,
  -- Until then it can be put back.
  aside_until DATETIME(3) NULL,
  method VARCHAR(60) NOT NULL DEFAULT '',
  -- What putting it back needs besides its bytes.
  mark JSON NULL,
  why VARCHAR(400) NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (disposal_id, item_id),
  UNIQUE KEY by_open (open_item),
  KEY by_item (item_id, disposal_id),
  KEY by_copy (copy_id),
  KEY by_aside (state, aside_until),
  FOREIGN KEY (disposal_id) REFERENCES disposal (id) ON DELETE CASCADE
);

-- Copies of the same bytes are looked for when one of them goes.
ALTER TABLE item ADD KEY by_content (content_hash);

-- What people said to a disposal.
CREATE TABLE disposal_word (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  disposal_id BIGINT UNSIGNED NOT NULL,
  -- One person counts once, whichever way they came.
  address VARCHAR(254) NOT NULL,
  name VARCHAR(120) NOT NULL,
  account_id INT UNSIGNED NULL,
  agrees BOOLEAN NOT NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  at DATETIME(3) NOT NULL,
  UNIQUE KEY by_person (disposal_id, address),
  FOREIGN KEY (disposal_id) REFERENCES disposal (id) ON DELETE CASCADE
);
