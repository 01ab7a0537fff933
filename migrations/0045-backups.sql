-- Copies of all of this that were made, and whether they could be restored.
CREATE TABLE backup_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  made_at DATETIME(3) NOT NULL,
  -- Its name alone: where it lies is the business of whoever keeps it.
  file VARCHAR(255) NOT NULL,
  size BIGINT UNSIGNED NOT NULL,
  digest BINARY(32) NOT NULL,
  -- When it was restored elsewhere and the ledger in it verified.
  proved_at DATETIME(3) NULL,
  entries BIGINT UNSIGNED NULL,
  problem VARCHAR(500) NOT NULL DEFAULT '',
  UNIQUE KEY by_digest (digest),
  KEY by_time (made_at),
  KEY by_proof (proved_at)
);
