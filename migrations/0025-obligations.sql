-- When, and for what part of the organisation, assessments are made together; their work is done once for all of them.
CREATE TABLE assessment_cycle (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  made_by INT UNSIGNED NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (name)
);

CREATE TABLE assessment (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  cycle_id INT UNSIGNED NOT NULL,
  framework VARCHAR(80) CHARACTER SET ascii NOT NULL,
  -- Of the framework, as it was taken.
  version DATE NOT NULL,
  content JSON NOT NULL,
  started_by INT UNSIGNED NULL,
  started_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_framework (cycle_id, framework),
  FOREIGN KEY (cycle_id) REFERENCES assessment_cycle (id)
);

-- Where a measure stands in a cycle.
CREATE TABLE measure_work (
  cycle_id INT UNSIGNED NOT NULL,
  measure VARCHAR(80) CHARACTER SET ascii NOT NULL,
  content JSON NOT NULL,
  -- The cycle that it was taken over from.
  came_from INT UNSIGNED NULL,
  PRIMARY KEY (cycle_id, measure),
  FOREIGN KEY (cycle_id) REFERENCES assessment_cycle (id)
);

-- What shows that a measure is done.
CREATE TABLE measure_evidence (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  cycle_id INT UNSIGNED NOT NULL,
  measure VARCHAR(80) CHARACTER SET ascii NOT NULL,
  name VARCHAR(200) NOT NULL,
  hash BINARY(32) NOT NULL,
  size INT UNSIGNED NOT NULL,
  -- Sealed.
  body LONGTEXT NOT NULL,
  -- The last day on which it counts.
  until DATE NULL,
  added_by INT UNSIGNED NULL,
  added_at DATETIME(3) NOT NULL,
  removed_at DATETIME(3) NULL,
  KEY by_measure (cycle_id, measure, id)
);

-- What the program saw of a measure last.
CREATE TABLE measure_test (
  measure VARCHAR(80) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  value DOUBLE NULL,
  -- What it is out of, where it is out of something.
  out_of DOUBLE NULL,
  passed BOOLEAN NULL,
  -- Since when it says so.
  since DATETIME(3) NOT NULL,
  at DATETIME(3) NOT NULL
);

-- How far an assessment was on a day, in parts of a point.
CREATE TABLE assessment_day (
  assessment_id INT UNSIGNED NOT NULL,
  day DATE NOT NULL,
  given BIGINT UNSIGNED NOT NULL,
  applicable BIGINT UNSIGNED NOT NULL,
  PRIMARY KEY (assessment_id, day),
  FOREIGN KEY (assessment_id) REFERENCES assessment (id) ON DELETE CASCADE
);

-- What controls weigh; as usual where nothing stands here.
CREATE TABLE readiness_weights (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL
);
