-- People who work here, as the last list of them said; with an account of the desk or without.
CREATE TABLE staff (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  address VARCHAR(254) NOT NULL,
  name VARCHAR(120) NOT NULL,
  unit VARCHAR(120) NOT NULL DEFAULT '',
  left_on DATE NULL,
  UNIQUE KEY by_address (address),
  KEY by_name (name)
);

CREATE TABLE staff_group (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  UNIQUE KEY by_name (name)
);

CREATE TABLE staff_membership (
  staff_id INT UNSIGNED NOT NULL,
  group_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (staff_id, group_id),
  KEY by_group (group_id),
  FOREIGN KEY (staff_id) REFERENCES staff (id) ON DELETE CASCADE,
  FOREIGN KEY (group_id) REFERENCES staff_group (id) ON DELETE CASCADE
);

-- Groups that stand in groups.
CREATE TABLE staff_nesting (
  inner_id INT UNSIGNED NOT NULL,
  outer_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (inner_id, outer_id),
  KEY by_outer (outer_id),
  FOREIGN KEY (inner_id) REFERENCES staff_group (id) ON DELETE CASCADE,
  FOREIGN KEY (outer_id) REFERENCES staff_group (id) ON DELETE CASCADE
);

-- When they were read last; one row.
CREATE TABLE staff_list (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  read_at DATETIME(3) NOT NULL,
  read_by INT UNSIGNED NULL
);

-- Programs that speak to the desk with a token.
CREATE TABLE program (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  -- SHA-256 of its token, which is shown once.
  token_hash BINARY(32) NOT NULL,
  scope VARCHAR(40) CHARACTER SET ascii NOT NULL,
  made_at DATETIME(3) NOT NULL,
  made_by INT UNSIGNED NULL,
  used_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  UNIQUE KEY by_token (token_hash)
);

-- Levels that owners are asked about: one for an item and the rule that proposes it.
CREATE TABLE level_proposal (
  item_id BIGINT UNSIGNED NOT NULL,
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  level VARCHAR(64) CHARACTER SET ascii NOT NULL,
  -- Who is asked; NULL where nobody who works here is known to own it.
  staff_id INT UNSIGNED NULL,
  state ENUM('open', 'agreed', 'declined') NOT NULL,
  made_at DATETIME(3) NOT NULL,
  said_at DATETIME(3) NULL,
  -- The account that said so, where it was one; the owner otherwise.
  said_by INT UNSIGNED NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  -- A letter told whoever is asked.
  told TINYINT UNSIGNED NOT NULL DEFAULT 0,
  PRIMARY KEY (item_id, rule_id),
  KEY by_state (state, item_id),
  KEY by_told (state, told, staff_id),
  KEY by_owner (staff_id, state, item_id),
  FOREIGN KEY (item_id) REFERENCES item (id) ON DELETE CASCADE,
  FOREIGN KEY (staff_id) REFERENCES staff (id) ON DELETE SET NULL
);

-- What changed last is asked every few seconds.
ALTER TABLE item_level ADD KEY by_set (set_at);

-- What was weighed when proposals were made last.
ALTER TABLE level_policy ADD COLUMN proposed_from CHAR(64) CHARACTER SET ascii NULL;
