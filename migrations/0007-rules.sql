-- Rules of every kind: the draft, its state, and the versions it was frozen as.
CREATE TABLE rule (
  -- The word of the ledger for it.
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  name VARCHAR(200) NOT NULL,
  content JSON NOT NULL,
  -- How its kind wrote contents when this one was written.
  shape SMALLINT UNSIGNED NOT NULL DEFAULT 1,
  -- Counts every saved edit, so that a second editor is told.
  revision INT UNSIGNED NOT NULL DEFAULT 0,
  stage JSON NOT NULL,
  state VARCHAR(12) CHARACTER SET ascii AS (JSON_VALUE(stage, '$.state')) PERSISTENT,
  last_version INT UNSIGNED NOT NULL DEFAULT 0,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL,
  PRIMARY KEY (kind, id),
  KEY by_name (kind, name),
  KEY by_state (kind, state, name)
);

CREATE TABLE rule_version (
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  version INT UNSIGNED NOT NULL,
  content JSON NOT NULL,
  shape SMALLINT UNSIGNED NOT NULL DEFAULT 1,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  PRIMARY KEY (kind, id, version),
  FOREIGN KEY (kind, id) REFERENCES rule (kind, id) ON DELETE CASCADE
);

INSERT INTO rule (kind, id, name, content, revision, stage, last_version, edited_by, edited_at)
  SELECT 'notice', n.site_id, LEFT(s.host, 200), n.content, n.revision, n.stage, n.last_version, n.edited_by, n.edited_at
  FROM notice n JOIN site s ON s.id = n.site_id;
INSERT INTO rule_version (kind, id, version, content, made_by, made_at)
  SELECT 'notice', site_id, version, content, made_by, made_at FROM notice_version;
INSERT INTO rule (kind, id, name, content, revision, stage, last_version, edited_by, edited_at)
  SELECT 'detector', id, LEFT(COALESCE(JSON_VALUE(content, '$.name'), id), 200), content, revision, stage, last_version, edited_by, edited_at FROM detector;
INSERT INTO rule_version (kind, id, version, content, made_by, made_at)
  SELECT 'detector', detector_id, version, content, made_by, made_at FROM detector_version;
DROP TABLE notice_version;
DROP TABLE notice;
DROP TABLE detector_version;
ALTER TABLE detector DROP COLUMN content, DROP COLUMN revision, DROP COLUMN stage, DROP COLUMN last_version, DROP COLUMN edited_by, DROP COLUMN edited_at;
