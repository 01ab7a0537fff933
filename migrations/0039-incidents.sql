-- What went wrong. What it says of people is sealed.
CREATE TABLE incident (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(24) CHARACTER SET ascii NOT NULL,
  content MEDIUMTEXT CHARACTER SET ascii NOT NULL,
  known_at DATETIME(3) NOT NULL,
  taken_at DATETIME(3) NOT NULL,
  -- The organisation is essential or important under NIS2 and it is significant; it holds health data by HIPAA.
  nis2 TINYINT(1) NOT NULL DEFAULT 0,
  hipaa TINYINT(1) NOT NULL DEFAULT 0,
  severity JSON NULL,
  -- Who and how many, as they were reckoned last.
  reckoned JSON NULL,
  reckoned_at DATETIME(3) NULL,
  decision JSON NULL,
  -- When whom a law names was told, by the id of its deadline.
  told JSON NOT NULL DEFAULT '{}',
  -- What letters are made from, as it was written last; sealed.
  words MEDIUMTEXT CHARACTER SET ascii NULL,
  handler INT UNSIGNED NULL,
  closed_at DATETIME(3) NULL,
  next_at DATETIME(3) NULL,
  next_words VARCHAR(200) NOT NULL DEFAULT '',
  is_wrong TINYINT(1) NOT NULL DEFAULT 0,
  KEY by_next (closed_at, next_at),
  KEY by_known (known_at, id),
  FOREIGN KEY (handler) REFERENCES account (id)
);

CREATE TABLE incident_step (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  incident_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(24) CHARACTER SET ascii NOT NULL,
  by_account INT UNSIGNED NULL,
  words VARCHAR(1000) NOT NULL DEFAULT '',
  KEY by_incident (incident_id, id),
  FOREIGN KEY (incident_id) REFERENCES incident (id) ON DELETE CASCADE,
  FOREIGN KEY (by_account) REFERENCES account (id)
);

-- What is done so that it does not happen again.
CREATE TABLE incident_measure (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  incident_id INT UNSIGNED NOT NULL,
  what VARCHAR(300) NOT NULL,
  owner INT UNSIGNED NULL,
  due_on DATE NOT NULL,
  done_at DATETIME(3) NULL,
  KEY by_incident (incident_id),
  FOREIGN KEY (incident_id) REFERENCES incident (id) ON DELETE CASCADE,
  FOREIGN KEY (owner) REFERENCES account (id)
);

-- What was there when it was looked at, so that nobody can say otherwise later.
CREATE TABLE incident_evidence (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  incident_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  what VARCHAR(300) NOT NULL,
  hash BINARY(32) NOT NULL,
  KEY by_incident (incident_id),
  FOREIGN KEY (incident_id) REFERENCES incident (id) ON DELETE CASCADE
);
