-- What a program shows to do what somebody may do, or a part of it.
CREATE TABLE access_token (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- SHA-256 of the token, which is shown once.
  token_hash BINARY(32) NOT NULL,
  actions JSON NOT NULL,
  made_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  UNIQUE KEY by_token (token_hash),
  KEY by_account (account_id, ended_at),
  CONSTRAINT access_token_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- What was answered to a request that may come again; sealed, for a day.
CREATE TABLE answered_request (
  token_id INT UNSIGNED NOT NULL,
  -- SHA-256 of the key that the program gave it.
  request_key BINARY(32) NOT NULL,
  -- SHA-256 of the method, the address and what was sent.
  digest BINARY(32) NOT NULL,
  begun_at DATETIME(3) NOT NULL,
  status SMALLINT UNSIGNED NULL,
  -- NULL where it was too large to keep.
  answer MEDIUMBLOB NULL,
  PRIMARY KEY (token_id, request_key),
  KEY by_time (begun_at),
  CONSTRAINT answered_request_token FOREIGN KEY (token_id) REFERENCES access_token (id)
);

-- A webhook that is told of what happens, from the first tree of the ledger after this one.
CREATE TABLE event_hook (
  hook INT UNSIGNED NOT NULL PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  -- Kinds of objects, or actions; empty for all.
  events JSON NOT NULL,
  told_tree BIGINT UNSIGNED NOT NULL,
  -- Of that tree's successor: how many of its entries were looked at.
  told_index INT UNSIGNED NOT NULL DEFAULT 0,
  -- Why nothing is told now; empty where it is.
  paused VARCHAR(300) NOT NULL DEFAULT '',
  UNIQUE KEY by_name (name),
  CONSTRAINT event_hook_webhook FOREIGN KEY (hook) REFERENCES webhook (id)
);
