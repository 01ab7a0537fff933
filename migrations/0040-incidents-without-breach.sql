-- Why something that was told of was no breach of personal data; NULL for one that was, or may be.
ALTER TABLE incident ADD COLUMN no_breach VARCHAR(1000) NULL AFTER decision;
