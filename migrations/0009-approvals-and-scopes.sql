-- Whose edits a draft and a version hold: they do not agree to their own.
ALTER TABLE rule ADD COLUMN authors JSON NOT NULL DEFAULT '[]';
ALTER TABLE rule_version ADD COLUMN authors JSON NOT NULL DEFAULT '[]';
UPDATE rule SET authors = JSON_ARRAY(edited_by) WHERE edited_by IS NOT NULL;
UPDATE rule_version SET authors = JSON_ARRAY(made_by) WHERE made_by IS NOT NULL;

-- How many have to agree before a rule of a kind is in force; none where nothing stands here.
CREATE TABLE approval_policy (
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  needed TINYINT UNSIGNED NOT NULL
);

-- Versions that others were asked to agree to.
CREATE TABLE approval (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  version INT UNSIGNED NOT NULL,
  needed TINYINT UNSIGNED NOT NULL,
  asked_by INT UNSIGNED NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  reason VARCHAR(500) NOT NULL,
  state ENUM('open', 'agreed', 'refused', 'withdrawn', 'overtaken') NOT NULL DEFAULT 'open',
  ended_at DATETIME(3) NULL,
  KEY by_rule (kind, rule_id, id),
  KEY by_version (kind, rule_id, version, state)
);

CREATE TABLE approval_person (
  approval_id BIGINT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  agrees BOOLEAN NULL,
  reason VARCHAR(500) NULL,
  at DATETIME(3) NULL,
  PRIMARY KEY (approval_id, account_id),
  FOREIGN KEY (approval_id) REFERENCES approval (id) ON DELETE CASCADE
);

-- Edits of what is no rule: how many, and the last.
CREATE TABLE object_edit (
  object VARCHAR(40) CHARACTER SET ascii NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  revision INT UNSIGNED NOT NULL,
  edited_by INT UNSIGNED NOT NULL,
  edited_at DATETIME(3) NOT NULL,
  PRIMARY KEY (object, id)
);

-- What an account is kept to: of objects of a kind, these alone. Without any, everything its role may.
CREATE TABLE account_scope (
  account_id INT UNSIGNED NOT NULL,
  object VARCHAR(40) CHARACTER SET ascii NOT NULL,
  object_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  PRIMARY KEY (account_id, object, object_id),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);

-- The object of a scope that an item of Today belongs to.
ALTER TABLE today_item
  ADD COLUMN within_object VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '',
  ADD COLUMN within_id VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '';
UPDATE today_item SET within_object = 'site', within_id = SUBSTRING(source, 6) WHERE source LIKE 'site %';
ALTER TABLE job
  ADD COLUMN within_object VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '',
  ADD COLUMN within_id VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '';
UPDATE job SET within_object = 'site', within_id = object_id WHERE object = 'site';

ALTER TABLE rule
  ADD COLUMN within_object VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '',
  ADD COLUMN within_id VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '',
  ADD KEY by_within (kind, within_object, within_id);
UPDATE rule SET within_object = 'site', within_id = id WHERE kind = 'notice';
