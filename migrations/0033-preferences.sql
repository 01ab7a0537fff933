-- People who may be written to, as mailing tools know them.
CREATE TABLE preference_person (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  -- Random: what receipts and the ledger call them by.
  person_key BINARY(16) NOT NULL UNIQUE,
  address VARCHAR(254) CHARACTER SET utf8mb4 NOT NULL UNIQUE,
  name VARCHAR(160) CHARACTER SET utf8mb4 NOT NULL DEFAULT '',
  -- What another system calls them.
  number VARCHAR(80) CHARACTER SET utf8mb4 NOT NULL DEFAULT '',
  language VARCHAR(20) NOT NULL DEFAULT '',
  -- As they stand now, comma separated.
  channels VARCHAR(400) NOT NULL DEFAULT '',
  topics VARCHAR(1000) NOT NULL DEFAULT '',
  -- Of the last record; NULL where there is none.
  said_at DATETIME(3) NULL,
  said_record BINARY(16) NULL,
  -- They said it themselves, by their link.
  said_self TINYINT UNSIGNED NOT NULL DEFAULT 0,
  -- They get nothing: of the record that said so.
  left_at DATETIME(3) NULL,
  made_at DATETIME(3) NOT NULL,
  KEY by_name (name, id)
);

CREATE TABLE preference_record (
  id BINARY(16) NOT NULL PRIMARY KEY,
  at DATETIME(3) NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  page_version INT UNSIGNED NOT NULL,
  asked_channels VARCHAR(400) NOT NULL,
  asked_topics VARCHAR(1000) NOT NULL,
  channels VARCHAR(400) NOT NULL,
  topics VARCHAR(1000) NOT NULL,
  act VARCHAR(20) NOT NULL,
  said_by VARCHAR(20) NOT NULL,
  reason VARCHAR(40) NOT NULL,
  -- In their own words; no part of the receipt.
  words VARCHAR(500) CHARACTER SET utf8mb4 NOT NULL,
  language VARCHAR(20) NOT NULL,
  ledger_id BIGINT UNSIGNED NOT NULL,
  FOREIGN KEY (person_id) REFERENCES preference_person (id),
  KEY by_person (person_id, at),
  KEY by_act (act, at, reason)
);

-- Mailing tools that are told of it, each over a webhook.
CREATE TABLE preference_tool (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) CHARACTER SET utf8mb4 NOT NULL,
  hook INT UNSIGNED NOT NULL,
  format VARCHAR(8) NOT NULL,
  -- How many messages were made for it, which names them.
  messages INT UNSIGNED NOT NULL DEFAULT 0,
  stopped_at DATETIME(3) NULL,
  made_at DATETIME(3) NOT NULL
);

-- Whose state a tool has still to be told.
CREATE TABLE preference_waiting (
  tool_id INT UNSIGNED NOT NULL,
  person_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (tool_id, person_id),
  FOREIGN KEY (person_id) REFERENCES preference_person (id) ON DELETE CASCADE
);
