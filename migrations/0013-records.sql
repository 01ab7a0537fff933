-- Records of processing (GDPR Art. 30); edited as they stand.
CREATE TABLE activity (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

-- Contradictions between records and estate that somebody said are as they should be.
CREATE TABLE accepted_contradiction (
  contradiction VARCHAR(300) COLLATE utf8mb4_bin NOT NULL PRIMARY KEY,
  reason VARCHAR(400) NOT NULL,
  accepted_by INT UNSIGNED NOT NULL,
  accepted_at DATETIME(3) NOT NULL
);
