-- Where stores that may hold data are named: an account that is asked, or a table that is sent.
CREATE TABLE listing (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  content JSON NOT NULL,
  address JSON NOT NULL,
  -- Sealed; never read by the desk again.
  secret TEXT NULL,
  -- Of tables: which heading stands for what, as it was matched last.
  headings JSON NULL,
  -- What came of the latest whole reading, and how the latest try went.
  outcome JSON NULL,
  health JSON NULL,
  next_run DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name),
  KEY by_next_run (next_run)
);

CREATE TABLE found_store (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  listing_id INT UNSIGNED NOT NULL,
  -- SHA-256 of what the listing knows it by, cut.
  hash BINARY(16) NOT NULL,
  name VARCHAR(200) NOT NULL,
  kind VARCHAR(20) CHARACTER SET ascii NOT NULL,
  content JSON NOT NULL,
  -- What the latest whole reading said of it.
  news ENUM('new', 'changed', 'back', 'gone', 'same') NOT NULL,
  changes JSON NULL,
  standing ENUM('open', 'source', 'aside') NOT NULL DEFAULT 'open',
  source_id INT UNSIGNED NULL,
  -- Why it is set aside.
  reason VARCHAR(400) NULL,
  first_seen DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_hash (listing_id, hash),
  KEY by_name (listing_id, name, id),
  KEY by_source (source_id),
  FOREIGN KEY (listing_id) REFERENCES listing (id) ON DELETE CASCADE
);
