-- What the organisation says of a region in the place of what ships.
CREATE TABLE regime (
  code VARCHAR(8) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  content LONGTEXT CHARACTER SET utf8mb4 NOT NULL,
  revision INT UNSIGNED NOT NULL,
  edited_by INT UNSIGNED NULL,
  edited_at DATETIME(3) NOT NULL
);

-- The regime that a sweep was judged by, as it stood when it was asked for; NULL: as it ships.
ALTER TABLE sweep ADD COLUMN regime LONGTEXT CHARACTER SET utf8mb4 NULL;
