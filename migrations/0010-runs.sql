-- Work that is estimated, started, paused and looked back at: what was asked for, what it took, what came of it.
CREATE TABLE run (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  title VARCHAR(200) NOT NULL,
  -- What it is about, by the words of the ledger, and what that belongs to.
  object VARCHAR(40) CHARACTER SET ascii NOT NULL,
  object_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  within_object VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '',
  within_id VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '',
  plan JSON NOT NULL,
  state ENUM('estimating', 'estimated', 'running', 'pausing', 'paused', 'stopping', 'done', 'failed', 'cancelled') NOT NULL,
  created_by INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  started_at DATETIME(3) NULL,
  ended_at DATETIME(3) NULL,
  error VARCHAR(2000) NULL,
  outcome JSON NULL,
  -- Over all results in order.
  digest BINARY(32) NULL,
  KEY by_object (object, object_id, id),
  KEY by_kind (kind, id),
  KEY by_state (state, kind)
);

-- What one worker does by itself; a run's parts can be done by several at once.
CREATE TABLE run_part (
  run_id BIGINT UNSIGNED NOT NULL,
  position INT UNSIGNED NOT NULL,
  part VARCHAR(200) NOT NULL,
  words VARCHAR(300) NOT NULL,
  -- What looking at it beforehand found.
  looked JSON NOT NULL,
  state ENUM('waiting', 'queued', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'waiting',
  -- Where to go on; written with the results up to there.
  place JSON NULL,
  items BIGINT UNSIGNED NOT NULL DEFAULT 0,
  bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
  results INT UNSIGNED NOT NULL DEFAULT 0,
  seconds DOUBLE NOT NULL DEFAULT 0,
  digest BINARY(32) NOT NULL,
  error VARCHAR(2000) NULL,
  ended_at DATETIME(3) NULL,
  PRIMARY KEY (run_id, position),
  KEY by_state (run_id, state, position),
  FOREIGN KEY (run_id) REFERENCES run (id) ON DELETE CASCADE
);

CREATE TABLE run_result (
  run_id BIGINT UNSIGNED NOT NULL,
  position INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  content JSON NOT NULL,
  PRIMARY KEY (run_id, position, number),
  FOREIGN KEY (run_id, position) REFERENCES run_part (run_id, position) ON DELETE CASCADE
);
