ALTER DATABASE CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;

CREATE TABLE account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  email VARCHAR(190) NOT NULL UNIQUE,
  name VARCHAR(120) NOT NULL,
  title VARCHAR(120) NOT NULL DEFAULT '',
  role VARCHAR(40) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
);

CREATE TABLE session (
  -- SHA-256 of the cookie, so that a copy of the table opens nothing.
  id BINARY(32) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  browser VARCHAR(120) NOT NULL,
  address VARCHAR(45) NOT NULL,
  KEY by_account (account_id, seen_at),
  KEY by_expiry (expires_at),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);

CREATE TABLE sign_in_failure (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  -- Keyed hash of the address or the e-mail that failed.
  subject BINARY(32) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_subject (subject, at),
  KEY by_time (at)
);

CREATE TABLE job (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(60) NOT NULL,
  title VARCHAR(200) NOT NULL,
  payload JSON NOT NULL,
  state ENUM('waiting', 'running', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'waiting',
  run_at DATETIME(3) NOT NULL,
  attempts TINYINT UNSIGNED NOT NULL DEFAULT 0,
  max_attempts TINYINT UNSIGNED NOT NULL DEFAULT 3,
  lease_owner VARCHAR(80) NULL,
  lease_until DATETIME(3) NULL,
  cancel_asked BOOLEAN NOT NULL DEFAULT FALSE,
  progress JSON NULL,
  result JSON NULL,
  error TEXT NULL,
  link VARCHAR(300) NULL,
  created_by INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  started_at DATETIME(3) NULL,
  finished_at DATETIME(3) NULL,
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  KEY to_claim (state, run_at, id),
  KEY to_reclaim (state, lease_until, id),
  KEY by_change (changed_at)
);

CREATE TABLE ledger_tree (
  number BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  size INT UNSIGNED NOT NULL,
  sealed_at DATETIME(3) NOT NULL,
  root BINARY(32) NOT NULL,
  previous BINARY(32) NOT NULL,
  head BINARY(32) NOT NULL
);

CREATE TABLE ledger_entry (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,
  at DATETIME(3) NOT NULL,
  actor VARCHAR(40) NOT NULL,
  action VARCHAR(60) NOT NULL,
  object VARCHAR(40) NOT NULL,
  object_id VARCHAR(64) NOT NULL,
  detail JSON NOT NULL,
  tree BIGINT UNSIGNED NULL,
  tree_index INT UNSIGNED NULL,
  PRIMARY KEY (id, at),
  KEY by_tree (tree, tree_index),
  KEY by_object (object, object_id, id),
  KEY by_action (action, id),
  KEY by_actor (actor, id),
  KEY by_time (at, id)
) PARTITION BY RANGE COLUMNS (at) (PARTITION later VALUES LESS THAN (MAXVALUE));
