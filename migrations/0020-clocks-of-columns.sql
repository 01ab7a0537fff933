-- When the table that a clock is told by was read last, what it told in a few words, and why it could not be read.
ALTER TABLE retention_clock
  ADD read_at DATETIME(3) NULL,
  ADD read_words VARCHAR(400) NOT NULL DEFAULT '',
  ADD problem VARCHAR(400) NOT NULL DEFAULT '';
