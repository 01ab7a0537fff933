-- Notices from before there were layouts are strips; their versions in evidence stay as they were written, and read as such.
UPDATE rule SET content = JSON_INSERT(content, '$.layout', 'strip') WHERE kind = 'notice';
