-- Frameworks of the organisation, as they were taken in; of one version the latest that was not taken out counts.
CREATE TABLE own_framework (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  framework VARCHAR(80) CHARACTER SET ascii NOT NULL,
  version DATE NOT NULL,
  content JSON NOT NULL,
  -- SHA-256 of its canonical JSON.
  hash BINARY(32) NOT NULL,
  taken_by INT UNSIGNED NULL,
  taken_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY by_version (framework, version, id)
);

-- What a provider said of its measures in a cycle; the latest file of each counts.
CREATE TABLE provider_answer (
  cycle_id INT UNSIGNED NOT NULL,
  measure VARCHAR(80) CHARACTER SET ascii NOT NULL,
  -- SHA-256 of its name in small letters, since names have any signs.
  provider_hash BINARY(32) NOT NULL,
  provider VARCHAR(200) NOT NULL,
  passed BOOLEAN NOT NULL,
  how TEXT NOT NULL,
  -- The last day on which it counts.
  until DATE NOT NULL,
  issued DATE NOT NULL,
  evidence_id INT UNSIGNED NOT NULL,
  taken_by INT UNSIGNED NULL,
  taken_at DATETIME(3) NOT NULL,
  PRIMARY KEY (cycle_id, measure, provider_hash),
  FOREIGN KEY (cycle_id) REFERENCES assessment_cycle (id)
);

-- What people say to each other about a measure.
CREATE TABLE measure_comment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  cycle_id INT UNSIGNED NOT NULL,
  measure VARCHAR(80) CHARACTER SET ascii NOT NULL,
  said TEXT NOT NULL,
  said_by INT UNSIGNED NULL,
  said_at DATETIME(3) NOT NULL,
  KEY by_measure (cycle_id, measure, id)
);

-- Where evidence is what the program showed: its place.
ALTER TABLE measure_evidence ADD COLUMN link VARCHAR(400) NULL,
  -- Whose file it is, where it is a provider’s.
  ADD COLUMN provider_hash BINARY(32) NULL;
