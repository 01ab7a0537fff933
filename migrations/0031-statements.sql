-- What a site's statement cannot know from sweeps and records.
CREATE TABLE statement (
  site_id INT UNSIGNED NOT NULL PRIMARY KEY,
  content LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  revision INT UNSIGNED NOT NULL,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL,
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

-- As it was published, by language; kept for ever.
CREATE TABLE statement_version (
  site_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  bodies LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  missing INT UNSIGNED NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  PRIMARY KEY (site_id, version),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);
