-- The rows behind a figure, by the days on which they stood so: `until` is the first on which they did not.
CREATE TABLE figure_row (
  figure VARCHAR(60) CHARACTER SET ascii NOT NULL,
  row_key VARCHAR(190) COLLATE utf8mb4_bin NOT NULL,
  since DATE NOT NULL,
  until DATE NULL,
  name VARCHAR(500) NOT NULL,
  n DOUBLE NOT NULL,
  out_of DOUBLE NULL,
  link VARCHAR(500) NOT NULL,
  parts JSON NOT NULL,
  PRIMARY KEY (figure, row_key, since),
  KEY by_day (figure, until, since)
);

-- What the organisation wants of a figure, and who looks after it.
CREATE TABLE figure_aim (
  figure VARCHAR(60) CHARACTER SET ascii NOT NULL PRIMARY KEY,
  -- Of what is told: a share is in [0, 1].
  target DOUBLE NULL,
  owner INT UNSIGNED NULL,
  CONSTRAINT figure_aim_owner FOREIGN KEY (owner) REFERENCES account (id)
);

CREATE TABLE board (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(160) NOT NULL UNIQUE,
  content JSON NOT NULL,
  created_at DATETIME(3) NOT NULL
);

-- Who has the address of one sees the board, until its end.
CREATE TABLE board_link (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  board_id INT UNSIGNED NOT NULL,
  token_hash BINARY(32) NOT NULL UNIQUE,
  words VARCHAR(160) NOT NULL DEFAULT '',
  made_by INT UNSIGNED NOT NULL,
  made_at DATETIME(3) NOT NULL,
  ends_at DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NULL,
  opened INT UNSIGNED NOT NULL DEFAULT 0,
  opened_at DATETIME(3) NULL,
  KEY by_board (board_id, ends_at),
  CONSTRAINT board_link_board FOREIGN KEY (board_id) REFERENCES board (id) ON DELETE CASCADE,
  CONSTRAINT board_link_account FOREIGN KEY (made_by) REFERENCES account (id)
);

INSERT INTO board (id, name, content, created_at) VALUES
  (1, 'Officer’s board', '{"name": "Officer’s board", "about": "What the privacy officer looks at.", "compare": "quarter", "tiles": [{"id": "t1", "figure": "cases.requests.in-time", "as": "number", "by": null, "days": 90}, {"id": "t2", "figure": "websites.without-leak", "as": "number", "by": null, "days": 90}, {"id": "t3", "figure": "websites.allowing", "as": "number", "by": null, "days": 90}, {"id": "t4", "figure": "protection.levelled", "as": "number", "by": null, "days": 90}, {"id": "t5", "figure": "retention.due", "as": "number", "by": null, "days": 90}, {"id": "t6", "figure": "access.wide", "as": "number", "by": null, "days": 90}, {"id": "t7", "figure": "obligations.readiness", "as": "number", "by": null, "days": 90}, {"id": "t8", "figure": "cases.incidents.open", "as": "number", "by": null, "days": 90}]}', NOW(3)),
  (2, 'Executives’ board', '{"name": "Executives’ board", "about": "Are we better than last quarter, and where are we exposed?", "compare": "quarter", "tiles": [{"id": "t1", "figure": "obligations.readiness", "as": "line", "by": null, "days": 90}, {"id": "t2", "figure": "cases.requests.in-time", "as": "number", "by": null, "days": 90}, {"id": "t3", "figure": "cases.incidents.known", "as": "number", "by": null, "days": 90}, {"id": "t4", "figure": "access.wide", "as": "number", "by": null, "days": 90}, {"id": "t5", "figure": "holdings.special-unlevelled", "as": "bars", "by": "source", "days": 90}, {"id": "t6", "figure": "cases.vendors.wrong", "as": "number", "by": null, "days": 90}]}', NOW(3)),
  (3, 'Websites', '{"name": "Websites", "about": "How many allow us, where, and what runs without being allowed?", "compare": "month", "tiles": [{"id": "t1", "figure": "websites.allowing", "as": "bars", "by": "region", "days": 90}, {"id": "t2", "figure": "websites.allowing", "as": "line", "by": null, "days": 90}, {"id": "t3", "figure": "websites.without-leak", "as": "number", "by": null, "days": 90}, {"id": "t4", "figure": "websites.leaks", "as": "table", "by": "site", "days": 90}, {"id": "t5", "figure": "websites.unsorted", "as": "number", "by": null, "days": 90}, {"id": "t6", "figure": "websites.lasting", "as": "number", "by": null, "days": 90}, {"id": "t7", "figure": "websites.asking", "as": "number", "by": null, "days": 90}]}', NOW(3));
