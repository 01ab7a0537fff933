-- What stands in an item's place once it was made anonymous: known before it is written, so that a broken run is settled by it.
ALTER TABLE disposal_item ADD COLUMN left_hash BINARY(32) NULL AFTER hash;

-- What items hold in them, attachments and members of archives: copies are known by it.
CREATE TABLE item_part (
  item_id BIGINT UNSIGNED NOT NULL,
  hash BINARY(32) NOT NULL,
  name VARCHAR(200) NOT NULL,
  PRIMARY KEY (item_id, hash),
  KEY by_hash (hash)
);

-- What was said of a rule or a bound of law when it was looked at again.
CREATE TABLE retention_review (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  version INT UNSIGNED NOT NULL,
  answer ENUM('stands', 'change', 'ends') NOT NULL,
  reason VARCHAR(400) NOT NULL DEFAULT '',
  account_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_rule (kind, rule_id, id)
);

-- A reminder is sent once for each day on which one is due.
CREATE TABLE retention_review_reminder (
  rule_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  due DATE NOT NULL,
  days SMALLINT NOT NULL,
  PRIMARY KEY (kind, rule_id, due, days)
);
