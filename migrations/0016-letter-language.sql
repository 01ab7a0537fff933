-- In which language somebody gets letters (BCP 47).
ALTER TABLE account ADD COLUMN language VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT 'en';
