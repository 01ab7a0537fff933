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
