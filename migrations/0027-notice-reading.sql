-- How the notice of a site is read: what is on it, which way through it does what, and why; NULL until a sweep has read one.
ALTER TABLE site ADD COLUMN reading LONGTEXT CHARACTER SET utf8mb4 NULL;

-- The same as a sweep found it, and the switches it tried, each on alone.
ALTER TABLE sweep ADD COLUMN reading LONGTEXT CHARACTER SET utf8mb4 NULL,
  ADD COLUMN switches LONGTEXT CHARACTER SET utf8mb4 NOT NULL DEFAULT '[]';

-- A bit for each of those switches with which the tracker ran.
ALTER TABLE swept_tracker ADD COLUMN ran_with SMALLINT UNSIGNED NOT NULL DEFAULT 0;
