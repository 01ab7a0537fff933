-- What is told again and again, or was once.
CREATE TABLE report (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL UNIQUE,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  -- Whose roles say what is in it.
  made_by INT UNSIGNED NULL,
  next_at DATETIME(3) NULL,
  KEY by_next (next_at),
  CONSTRAINT report_account FOREIGN KEY (made_by) REFERENCES account (id)
);

-- People without an account whom a report goes to; sealed. No ledger has them.
CREATE TABLE report_address (
  report_id INT UNSIGNED NOT NULL,
  n SMALLINT UNSIGNED NOT NULL,
  address VARCHAR(1000) CHARACTER SET ascii NOT NULL,
  PRIMARY KEY (report_id, n),
  CONSTRAINT report_address_report FOREIGN KEY (report_id) REFERENCES report (id) ON DELETE CASCADE
);

-- One making of a report: a file, in parts, until it is let go.
CREATE TABLE report_file (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  report_id INT UNSIGNED NOT NULL,
  -- As the report was when it was made.
  content JSON NOT NULL,
  asked_at DATETIME(3) NOT NULL,
  asked_by INT UNSIGNED NULL,
  state ENUM('waiting', 'ready', 'failed') NOT NULL DEFAULT 'waiting',
  problem VARCHAR(500) NOT NULL DEFAULT '',
  made_at DATETIME(3) NULL,
  keep_until DATETIME(3) NULL,
  -- `lines` of a table; without its head.
  line_count INT UNSIGNED NULL,
  size BIGINT UNSIGNED NULL,
  digest BINARY(32) NULL,
  ledger_id BIGINT UNSIGNED NULL,
  -- Accounts it is for, and who was left out since their roles do not include what it tells.
  people JSON NOT NULL DEFAULT '[]',
  left_out JSON NOT NULL DEFAULT '[]',
  -- What somebody must be allowed to do to have it.
  needs JSON NOT NULL DEFAULT '[]',
  fetched INT UNSIGNED NOT NULL DEFAULT 0,
  gone_at DATETIME(3) NULL,
  KEY by_report (report_id, id),
  KEY by_end (gone_at, keep_until),
  CONSTRAINT report_file_report FOREIGN KEY (report_id) REFERENCES report (id) ON DELETE CASCADE
);

CREATE TABLE report_part (
  file_id INT UNSIGNED NOT NULL,
  part INT UNSIGNED NOT NULL,
  -- Sealed.
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, part),
  CONSTRAINT report_part_file FOREIGN KEY (file_id) REFERENCES report_file (id) ON DELETE CASCADE
);
