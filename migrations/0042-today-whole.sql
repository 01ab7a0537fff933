-- What somebody does not want to see before a moment; it is shown again at once where it says something else.
CREATE TABLE today_put_off (
  account_id INT UNSIGNED NOT NULL,
  kind VARCHAR(40) NOT NULL,
  item_key VARCHAR(120) NOT NULL,
  until DATETIME(3) NOT NULL,
  -- Of the item as it was then.
  steady INT UNSIGNED NOT NULL,
  PRIMARY KEY (account_id, kind, item_key),
  KEY by_item (kind, item_key),
  KEY by_end (until)
);

-- What everybody of a role could do, and one person has now.
CREATE TABLE today_handed (
  kind VARCHAR(40) NOT NULL,
  item_key VARCHAR(120) NOT NULL,
  to_account INT UNSIGNED NOT NULL,
  by_account INT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL,
  words VARCHAR(300) NOT NULL DEFAULT '',
  PRIMARY KEY (kind, item_key)
);

-- What was on Today and is no more.
CREATE TABLE today_past (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(40) NOT NULL,
  item_key VARCHAR(120) NOT NULL,
  action VARCHAR(60) NOT NULL,
  assigned_to INT UNSIGNED NULL,
  within_object VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '',
  within_id VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '',
  words VARCHAR(300) NOT NULL,
  link VARCHAR(300) NOT NULL,
  since DATETIME(3) NOT NULL,
  ended_at DATETIME(3) NOT NULL,
  KEY by_end (ended_at)
);

-- How many of a kind there were on a day, by who may see them.
CREATE TABLE today_day (
  day DATE NOT NULL,
  kind VARCHAR(40) NOT NULL,
  action VARCHAR(60) NOT NULL,
  items INT UNSIGNED NOT NULL,
  PRIMARY KEY (day, kind, action)
);

-- When somebody was here last, and the time before.
CREATE TABLE today_visit (
  account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  last_at DATETIME(3) NOT NULL,
  before_at DATETIME(3) NULL
);

-- What one act does about it, where one does.
ALTER TABLE today_item
  ADD COLUMN act JSON NULL,
  -- Of what it says but for how much time is left, which changes by itself.
  ADD COLUMN steady INT UNSIGNED NOT NULL DEFAULT 0,
  -- When it was put there, whatever it has been so since.
  ADD COLUMN came_at DATETIME(3) NOT NULL DEFAULT (UTC_TIMESTAMP(3)),
  ADD KEY by_link (link(100), item_key);
UPDATE today_item SET came_at = since;
