-- What a job is about, by the words of the ledger.
ALTER TABLE job
  ADD COLUMN object VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN object_id VARCHAR(64) NOT NULL DEFAULT '',
  ADD KEY by_object (object, object_id, kind, state),
  ADD KEY by_end (finished_at);

-- Everything that needs a hand, written with the change that causes it and taken away with the one that ends it.
ALTER TABLE today_item
  -- The object it comes from: its items are replaced together.
  ADD COLUMN source VARCHAR(80) NOT NULL DEFAULT '',
  -- What is wanted first comes first.
  ADD COLUMN place TINYINT UNSIGNED NOT NULL DEFAULT 50,
  ADD COLUMN assigned_to INT UNSIGNED NULL,
  ADD COLUMN due DATETIME(3) NULL,
  -- After this it is of no more use.
  ADD COLUMN until DATETIME(3) NULL,
  -- Somebody has to say that it was seen to; others end with what they tell of.
  ADD COLUMN dismissable BOOLEAN NOT NULL DEFAULT TRUE,
  -- Of what it says, to see that it changed.
  ADD COLUMN mark INT UNSIGNED NOT NULL DEFAULT 1,
  ADD KEY by_source (source),
  ADD KEY by_action (action, assigned_to),
  ADD KEY by_until (until);

-- How many items there are, by who may see them, kept with every change; `assigned_to` 0 for everybody.
CREATE TABLE today_count (
  action VARCHAR(60) NOT NULL,
  assigned_to INT UNSIGNED NOT NULL DEFAULT 0,
  items INT NOT NULL DEFAULT 0,
  mark INT UNSIGNED NOT NULL DEFAULT 0,
  PRIMARY KEY (action, assigned_to)
);
INSERT INTO today_count (action, items, mark) SELECT action, COUNT(*), BIT_XOR(mark) FROM today_item GROUP BY action;

-- How many rules of a kind take effect and are rehearsed, kept with every move.
CREATE TABLE rule_count (
  kind VARCHAR(40) NOT NULL PRIMARY KEY,
  in_force INT NOT NULL DEFAULT 0,
  rehearsing INT NOT NULL DEFAULT 0
);

-- Entries up to and with a tree, so that nobody has to add up all trees.
ALTER TABLE ledger_tree ADD COLUMN total BIGINT UNSIGNED NOT NULL DEFAULT 0;
UPDATE ledger_tree t JOIN (SELECT number, SUM(size) OVER (ORDER BY number) AS total FROM ledger_tree) s ON s.number = t.number SET t.total = s.total;

-- What each figure was, one value a day.
CREATE TABLE figure_value (
  figure VARCHAR(60) CHARACTER SET ascii NOT NULL,
  day DATE NOT NULL,
  value DOUBLE NULL,
  out_of DOUBLE NULL,
  low DOUBLE NULL,
  high DOUBLE NULL,
  counted_at DATETIME(3) NOT NULL,
  PRIMARY KEY (figure, day)
);

-- Lists of the ledger go by time, whatever they are of.
ALTER TABLE ledger_entry
  DROP KEY by_object, DROP KEY by_action, DROP KEY by_actor,
  ADD KEY by_object (object, object_id, at, id),
  ADD KEY by_action (action, at, id),
  ADD KEY by_actor (actor, at, id);
