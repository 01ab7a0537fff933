-- A source that was taken out still says what was known of it on past days; its name may be given again.
ALTER TABLE access_source
  ADD COLUMN removed_at DATETIME(3) NULL,
  ADD COLUMN standing TINYINT AS (IF(removed_at IS NULL, 1, NULL)) PERSISTENT,
  DROP KEY by_name,
  ADD UNIQUE KEY by_name (name, standing);
