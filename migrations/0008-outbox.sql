-- What goes out to others, written with the change that causes it and sent afterwards.
CREATE TABLE outgoing_message (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  channel ENUM('mail', 'webhook') NOT NULL,
  -- One message a key: a change that is tried again writes no second.
  message_key VARCHAR(120) NOT NULL,
  -- To whom, and what it says; encrypted.
  content MEDIUMTEXT NOT NULL,
  -- What it is about, by the words of the ledger.
  object VARCHAR(40) NOT NULL,
  object_id VARCHAR(64) NOT NULL,
  -- `unclear`: it may have arrived, and nobody can say.
  state ENUM('waiting', 'sending', 'sent', 'failed', 'unclear') NOT NULL DEFAULT 'waiting',
  attempts TINYINT UNSIGNED NOT NULL DEFAULT 0,
  run_at DATETIME(3) NOT NULL,
  lease_until DATETIME(3) NULL,
  error VARCHAR(500) NULL,
  created_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  UNIQUE KEY by_key (channel, message_key),
  KEY to_send (state, run_at, id),
  KEY by_object (object, object_id, id),
  KEY by_end (ended_at)
);

-- Where others want to be told.
CREATE TABLE webhook (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  url VARCHAR(2000) NOT NULL,
  -- Encrypted.
  secret TEXT NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  stopped_at DATETIME(3) NULL
);
