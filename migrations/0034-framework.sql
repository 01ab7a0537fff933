-- Vendor lists that were taken in; the newest holds.
CREATE TABLE vendor_list (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  version INT UNSIGNED NOT NULL,
  content LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  taken_by INT UNSIGNED NULL,
  taken_at DATETIME(3) NOT NULL
);

-- What the framework’s tags were told; empty where the site takes no part in it.
ALTER TABLE consent_record ADD COLUMN tc VARCHAR(4000) CHARACTER SET ascii NOT NULL DEFAULT '';
