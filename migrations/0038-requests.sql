-- How requests of people are handled; there is one.
CREATE TABLE request_policy (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL
);
INSERT INTO request_policy (id, content) VALUES (1, '{"organisation":"The organisation","zone":"Europe/Copenhagen","country":"DK","taskDays":5,"nudgeDays":3,"keepDays":90,"fetchDays":14,"handler":"","mailbox":"","mailboxPlace":""}');

-- What people ask. What it says of them is sealed.
CREATE TABLE subject_request (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(24) CHARACTER SET ascii NOT NULL,
  law VARCHAR(20) CHARACTER SET ascii NOT NULL,
  region VARCHAR(6) CHARACTER SET ascii NOT NULL,
  language VARCHAR(12) CHARACTER SET ascii NOT NULL,
  way VARCHAR(12) CHARACTER SET ascii NOT NULL,
  site VARCHAR(60) NOT NULL DEFAULT '',
  -- NULL once it was let go.
  content MEDIUMTEXT CHARACTER SET ascii NULL,
  -- What else they are known by, from their own rows; sealed.
  learned MEDIUMTEXT CHARACTER SET ascii NULL,
  -- Keyed, of the address or the name; what tells requests of one person.
  person_hash BINARY(16) NOT NULL,
  received_at DATETIME(3) NOT NULL,
  received_on DATE NOT NULL,
  confirmed_on DATE NULL,
  asked_at DATETIME(3) NULL,
  -- What came of asking who it is: `answered`, `agrees`, `differs`, `nothing held`
  proof VARCHAR(16) CHARACTER SET ascii NULL,
  known_by VARCHAR(20) CHARACTER SET ascii NULL,
  known_at DATETIME(3) NULL,
  extended_on DATE NULL,
  search VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT 'never',
  searched_at DATETIME(3) NULL,
  -- When somebody agreed to what is deleted or put right.
  agreed_at DATETIME(3) NULL,
  answered_on DATE NULL,
  handler INT UNSIGNED NULL,
  outcome VARCHAR(20) CHARACTER SET ascii NULL,
  closed_at DATETIME(3) NULL,
  -- The last day on which it can be answered in time, as it stands.
  due_on DATE NOT NULL,
  -- What comes next, for lists.
  next_words VARCHAR(200) NOT NULL DEFAULT '',
  is_wrong TINYINT(1) NOT NULL DEFAULT 0,
  -- Carried on with each change; who changes what another changed meanwhile is told.
  version INT UNSIGNED NOT NULL DEFAULT 1,
  -- Program’s own number of it, so that one sent twice is taken once.
  sent_key VARCHAR(80) CHARACTER SET ascii NULL,
  forget_on DATE NULL,
  KEY by_due (outcome, due_on, id),
  KEY by_person (person_hash, received_on),
  KEY by_received (received_on, id),
  KEY by_handler (handler, outcome),
  KEY by_forget (forget_on),
  UNIQUE KEY by_sent_key (sent_key),
  FOREIGN KEY (handler) REFERENCES account (id)
);

CREATE TABLE request_pause (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  why VARCHAR(16) CHARACTER SET ascii NOT NULL,
  from_on DATE NOT NULL,
  to_on DATE NULL,
  KEY by_request (request_id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);

-- What happened, in order.
CREATE TABLE request_step (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  kind VARCHAR(24) CHARACTER SET ascii NOT NULL,
  by_account INT UNSIGNED NULL,
  words VARCHAR(1000) NOT NULL DEFAULT '',
  KEY by_request (request_id, id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE,
  FOREIGN KEY (by_account) REFERENCES account (id)
);

-- Links that people open without an account: kept as hashes, used once or until a day.
CREATE TABLE request_link (
  token_hash BINARY(32) NOT NULL PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  what VARCHAR(10) CHARACTER SET ascii NOT NULL,
  until_on DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  tries SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  KEY by_request (request_id),
  KEY by_end (until_on),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);

-- What was sent along as proof, and what was answered; gone once the request is closed.
CREATE TABLE request_proof (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  name VARCHAR(200) NOT NULL,
  size INT UNSIGNED NOT NULL,
  content MEDIUMBLOB NOT NULL,
  KEY by_request (request_id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);

CREATE TABLE request_task (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  system_id INT UNSIGNED NULL,
  what VARCHAR(300) NOT NULL,
  owner INT UNSIGNED NULL,
  due_on DATE NOT NULL,
  done_at DATETIME(3) NULL,
  done_by INT UNSIGNED NULL,
  outcome VARCHAR(500) NOT NULL DEFAULT '',
  reminded_on DATE NULL,
  nudged_on DATE NULL,
  -- Removing an item by hand: the item.
  item_id BIGINT UNSIGNED NULL,
  KEY by_request (request_id),
  KEY by_owner (owner, done_at, due_on),
  KEY by_due (done_at, due_on),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE,
  FOREIGN KEY (owner) REFERENCES account (id)
);

-- What is held of the person: something in a source, or of this program itself.
CREATE TABLE request_item (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  -- `item`, `linked rows`, `preferences`, `choices`
  origin VARCHAR(12) CHARACTER SET ascii NOT NULL,
  source_id INT UNSIGNED NULL,
  system_id INT UNSIGNED NULL,
  item_id BIGINT UNSIGNED NULL,
  -- What tells it from others of the request.
  item_key BINARY(16) NOT NULL,
  path VARCHAR(2000) NOT NULL DEFAULT '',
  name VARCHAR(400) NOT NULL,
  title VARCHAR(400) NOT NULL DEFAULT '',
  format VARCHAR(20) CHARACTER SET ascii NOT NULL DEFAULT '',
  changed_at DATETIME(3) NULL,
  -- Traits it was found by, with commas.
  found_by VARCHAR(80) CHARACTER SET ascii NOT NULL,
  sure VARCHAR(10) CHARACTER SET ascii NOT NULL,
  -- `yes`, `no`, `ask`
  theirs VARCHAR(3) CHARACTER SET ascii NOT NULL,
  -- Of the bearer of the name, keyed; zeros where nothing tells one.
  bearer_hash BINARY(16) NOT NULL,
  -- Sealed: the bearer, why, and the text of what is theirs with its covers. NULL once it was let go.
  reading LONGTEXT CHARACTER SET ascii NULL,
  hash BINARY(32) NULL,
  covers INT UNSIGNED NOT NULL DEFAULT 0,
  doubts INT UNSIGNED NOT NULL DEFAULT 0,
  people INT UNSIGNED NOT NULL DEFAULT 0,
  rows_theirs INT UNSIGNED NOT NULL DEFAULT 0,
  rows_left INT UNSIGNED NOT NULL DEFAULT 0,
  -- `to look over`, `right`, `left out`, `unreadable`
  state VARCHAR(12) CHARACTER SET ascii NOT NULL,
  looked_by INT UNSIGNED NULL,
  looked_at DATETIME(3) NULL,
  ground VARCHAR(20) CHARACTER SET ascii NULL,
  reason VARCHAR(500) NOT NULL DEFAULT '',
  problem VARCHAR(500) NOT NULL DEFAULT '',
  -- What became of it where it is deleted or put right: `waiting`, `done`, `failed`, `kept`, `by hand`
  change_state VARCHAR(10) CHARACTER SET ascii NULL,
  fate VARCHAR(12) CHARACTER SET ascii NULL,
  fate_why VARCHAR(500) NOT NULL DEFAULT '',
  fate_article VARCHAR(40) NOT NULL DEFAULT '',
  version INT UNSIGNED NOT NULL DEFAULT 1,
  UNIQUE KEY by_key (request_id, item_key),
  KEY by_state (request_id, theirs, state),
  KEY by_item (item_id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE,
  FOREIGN KEY (looked_by) REFERENCES account (id)
);

CREATE TABLE request_letter (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  letter VARCHAR(20) CHARACTER SET ascii NOT NULL,
  language VARCHAR(12) CHARACTER SET ascii NOT NULL,
  -- Sealed; NULL once it was let go.
  content MEDIUMTEXT CHARACTER SET ascii NULL,
  by_account INT UNSIGNED NULL,
  KEY by_request (request_id, id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);

CREATE TABLE request_package (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL,
  made_by INT UNSIGNED NULL,
  digest BINARY(32) NOT NULL,
  size INT UNSIGNED NOT NULL,
  files INT UNSIGNED NOT NULL,
  items INT UNSIGNED NOT NULL,
  -- Values that were covered and stand in it all the same, masked.
  leftovers JSON NOT NULL,
  -- What it was made from: a digest of the items as they stood.
  made_from BINARY(32) NOT NULL,
  copy_id BIGINT UNSIGNED NULL,
  phrase VARCHAR(300) CHARACTER SET ascii NULL,
  until_on DATE NULL,
  fetched_at DATETIME(3) NULL,
  fetches INT UNSIGNED NOT NULL DEFAULT 0,
  KEY by_request (request_id, id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);

-- Forms that came from each network within the last hour, by a keyed hash of it.
CREATE TABLE request_form (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  network BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  KEY by_network (network, at),
  KEY by_time (at)
);

-- Mail that came where people write about their data: each is taken in as a request, or set aside.
CREATE TABLE request_mail (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  mail_key BINARY(16) NOT NULL,
  at DATETIME(3) NOT NULL,
  -- Sealed; NULL once it was set aside.
  content MEDIUMTEXT CHARACTER SET ascii NULL,
  state VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT 'new',
  request_id INT UNSIGNED NULL,
  UNIQUE KEY by_key (mail_key),
  KEY by_state (state, at)
);

-- Whom the organisation was asked to forget, as keyed hashes: so that no copy and no import brings them back unseen.
CREATE TABLE forgotten_person (
  person BINARY(8) NOT NULL PRIMARY KEY,
  request_id INT UNSIGNED NOT NULL,
  since DATETIME(3) NOT NULL,
  KEY by_request (request_id),
  FOREIGN KEY (request_id) REFERENCES subject_request (id) ON DELETE CASCADE
);
-- Items up to this one were looked through for them.
CREATE TABLE forgotten_watch (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  looked_at DATETIME(3) NOT NULL
);
INSERT INTO forgotten_watch (id, looked_at) VALUES (1, '2000-01-01');

-- Which items hold a value.
ALTER TABLE finding_match ADD KEY by_value (value_hash, detector);
