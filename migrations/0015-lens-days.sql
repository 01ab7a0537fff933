-- What was in a lens on a day: kept once a day for those that are kept under a name, and for everything.
CREATE TABLE lens_day (
  -- SHA-256 of the line of the lens, cut: a lens that is changed is another one.
  line_hash BINARY(16) NOT NULL,
  day DATE NOT NULL,
  -- The items, as a set, deflated.
  items LONGBLOB NOT NULL,
  figures JSON NOT NULL,
  kept_at DATETIME(3) NOT NULL,
  PRIMARY KEY (line_hash, day),
  KEY by_day (day)
);
