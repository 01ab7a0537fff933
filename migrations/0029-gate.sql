-- What the gate of a site does; a site without a row holds what is marked only.
CREATE TABLE site_gate (
  site_id INT UNSIGNED NOT NULL PRIMARY KEY,
  settings LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  -- Worked out from the last sweeps, the decisions and the tags; see GatePlan.
  plan LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

-- What is said of a tag, found by a sweep or added by hand.
CREATE TABLE tag (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  host VARCHAR(260) NOT NULL,
  -- Path, as of a request.
  name VARCHAR(300) NOT NULL,
  -- SHA-256 of host and name.
  identity BINARY(32) NOT NULL,
  content LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  by_hand BOOLEAN NOT NULL DEFAULT FALSE,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_identity (site_id, identity),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

-- How a tag system is told the state; see TagSystem.
CREATE TABLE tag_system (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) CHARACTER SET utf8mb4 NOT NULL UNIQUE,
  content LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  revision INT UNSIGNED NOT NULL,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL
);

-- One visit of a page, or a few, as visitors with different answers, side by side.
CREATE TABLE visit (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  site_id INT UNSIGNED NOT NULL,
  job_id BIGINT UNSIGNED NULL,
  state ENUM('waiting', 'running', 'complete', 'cancelled', 'failed') NOT NULL,
  -- What was asked for: pages, region, purposes of the own choice.
  wish LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  -- What happened; NULL until it is over.
  course LONGTEXT CHARACTER SET utf8mb4 NULL,
  too_early INT UNSIGNED NOT NULL DEFAULT 0,
  -- SHA-256 of the course, which the ledger keeps.
  digest BINARY(32) NULL,
  ledger_id BIGINT UNSIGNED NULL,
  started_by INT UNSIGNED NULL,
  created_at DATETIME(3) NOT NULL,
  finished_at DATETIME(3) NULL,
  KEY by_site (site_id, id),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);
