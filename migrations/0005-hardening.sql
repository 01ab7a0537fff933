-- The audit path of a sealed entry (RFC 6962 section 2.1.1): hashes of 32 bytes, lowest first.
ALTER TABLE ledger_entry ADD COLUMN audit_path VARBINARY(1024) NULL;

-- The row that choices of one visitor wait for each other at; of use for a day.
CREATE TABLE consent_turn (
  site_id INT UNSIGNED NOT NULL,
  visitor_key BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (site_id, visitor_key),
  KEY by_time (at)
);

-- Choices that were put on record, by the number their browser gave them, so that one sent again is known.
CREATE TABLE consent_sent (
  site_id INT UNSIGNED NOT NULL,
  choice_key BINARY(16) NOT NULL,
  visitor_key BINARY(16) NOT NULL,
  consent_id BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (site_id, choice_key),
  KEY by_time (at)
);

-- Compared byte by byte: what is merely alike is not the same address.
ALTER TABLE account
  MODIFY email VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  ADD COLUMN disabled_at DATETIME(3) NULL;

-- Browsers in which somebody has signed in before.
CREATE TABLE known_device (
  -- SHA-256 of the cookie.
  id BINARY(32) NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  PRIMARY KEY (id, account_id),
  KEY by_account (account_id, seen_at),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);

-- What needs a hand and stands in no table of its own.
CREATE TABLE today_item (
  kind VARCHAR(40) NOT NULL,
  item_key VARCHAR(120) NOT NULL,
  -- What somebody must be allowed to do to see it.
  action VARCHAR(60) NOT NULL,
  words VARCHAR(300) NOT NULL,
  detail VARCHAR(500) NOT NULL DEFAULT '',
  link VARCHAR(300) NOT NULL,
  since DATETIME(3) NOT NULL,
  PRIMARY KEY (kind, item_key),
  KEY by_time (since)
);
