-- Impact assessments, vendors and AI systems: what is written of each, what was decided of it, and what it is linked to now.
CREATE TABLE impact_assessment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  content JSON NOT NULL,
  decided JSON NOT NULL DEFAULT '{}',
  -- What its links came to, when they were looked at last; NULL where that has to be done anew.
  facts JSON NULL,
  facts_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  state VARCHAR(30) NOT NULL DEFAULT '',
  next_words VARCHAR(300) NOT NULL DEFAULT '',
  next_on DATE NULL,
  is_wrong TINYINT(1) NOT NULL DEFAULT 0,
  needs SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  UNIQUE KEY by_name (name),
  KEY by_facts (facts_at)
);
CREATE TABLE vendor LIKE impact_assessment;
CREATE TABLE ai_system LIKE impact_assessment;

CREATE TABLE dossier_step (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  object VARCHAR(24) CHARACTER SET ascii NOT NULL,
  object_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  step VARCHAR(24) CHARACTER SET ascii NOT NULL,
  by_account INT UNSIGNED NULL,
  words VARCHAR(2000) NOT NULL DEFAULT '',
  KEY by_object (object, object_id, id),
  FOREIGN KEY (by_account) REFERENCES account (id)
);

-- Contracts, and what vendors send with their answers. Sealed.
CREATE TABLE dossier_file (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  object VARCHAR(24) CHARACTER SET ascii NOT NULL,
  object_id INT UNSIGNED NOT NULL,
  -- 'contract', or the question that it belongs to.
  what VARCHAR(60) CHARACTER SET ascii NOT NULL,
  name VARCHAR(260) NOT NULL,
  size INT UNSIGNED NOT NULL,
  hash BINARY(32) NOT NULL,
  content MEDIUMBLOB NOT NULL,
  -- What was read in it: the clauses of a contract, with their passages.
  found JSON NULL,
  at DATETIME(3) NOT NULL,
  by_account INT UNSIGNED NULL,
  KEY by_object (object, object_id, what, id),
  FOREIGN KEY (by_account) REFERENCES account (id)
);

-- Addresses at which vendors answer, as hashes.
CREATE TABLE vendor_link (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  vendor_id INT UNSIGNED NOT NULL,
  until_on DATETIME(3) NOT NULL,
  KEY by_vendor (vendor_id),
  FOREIGN KEY (vendor_id) REFERENCES vendor (id) ON DELETE CASCADE
);

CREATE TABLE questionnaire (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);
