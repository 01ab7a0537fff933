-- From what kind of device a choice came, and the first part of the page's path; empty where nobody said.
ALTER TABLE consent_record
  ADD COLUMN device ENUM('', 'phone', 'tablet', 'desktop') NOT NULL DEFAULT '',
  ADD COLUMN page_group VARCHAR(40) NOT NULL DEFAULT '',
  -- Two filters at once leave few rows of many: each pair is found by itself.
  ADD KEY by_region_choice (site_id, region, choice, at, id),
  ADD KEY by_version_choice (site_id, notice_version, choice, at, id),
  ADD KEY by_region_version (site_id, region, notice_version, at, id);

-- How often a notice was shown, by day; nothing of who saw it.
CREATE TABLE notice_shown (
  site_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  version INT UNSIGNED NOT NULL,
  region VARCHAR(6) NOT NULL,
  language VARCHAR(20) NOT NULL,
  device ENUM('', 'phone', 'tablet', 'desktop') NOT NULL,
  page_group VARCHAR(40) NOT NULL,
  n INT UNSIGNED NOT NULL,
  PRIMARY KEY (site_id, day, version, region, language, device, page_group),
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);

-- How long choices are on record; NULL: for ever. One row.
CREATE TABLE consent_log (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  months SMALLINT UNSIGNED NULL
);

-- Two versions of a notice before live visitors.
CREATE TABLE notice_trial (
  site_id INT UNSIGNED NOT NULL PRIMARY KEY,
  version INT UNSIGNED NOT NULL,
  against INT UNSIGNED NOT NULL,
  -- Of visitors who see the version on trial, in percent.
  share TINYINT UNSIGNED NOT NULL,
  begun_by INT UNSIGNED NULL,
  begun_at DATETIME(3) NOT NULL,
  FOREIGN KEY (site_id) REFERENCES site (id) ON DELETE CASCADE
);
