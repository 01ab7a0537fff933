-- What a rule's draft names of others: a detector that a context asks for. Kept with each edit.
CREATE TABLE rule_reference (
  kind VARCHAR(40) CHARACTER SET ascii NOT NULL,
  id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  object VARCHAR(40) CHARACTER SET ascii NOT NULL,
  object_id VARCHAR(64) CHARACTER SET ascii NOT NULL,
  PRIMARY KEY (kind, id, object, object_id),
  KEY by_object (object, object_id, kind, id),
  FOREIGN KEY (kind, id) REFERENCES rule (kind, id) ON DELETE CASCADE
);
INSERT IGNORE INTO rule_reference (kind, id, object, object_id)
  SELECT r.kind, r.id, 'detector', c.detector
  FROM rule r JOIN JSON_TABLE(r.content, '$.context[*]' COLUMNS (detector VARCHAR(64) CHARACTER SET ascii PATH '$.detector')) c
  WHERE r.kind = 'detector' AND c.detector IS NOT NULL;

-- How often what is marked in a labelled text; kept with its marks.
CREATE TABLE labelled_mark (
  text_id BIGINT UNSIGNED NOT NULL,
  label VARCHAR(64) COLLATE utf8mb4_nopad_bin NOT NULL,
  n INT UNSIGNED NOT NULL,
  PRIMARY KEY (text_id, label),
  KEY by_label (label, text_id),
  FOREIGN KEY (text_id) REFERENCES labelled_text (id) ON DELETE CASCADE
);
INSERT INTO labelled_mark (text_id, label, n)
  SELECT t.id, m.label, COUNT(*)
  FROM labelled_text t JOIN JSON_TABLE(t.marks, '$[*]' COLUMNS (label VARCHAR(64) COLLATE utf8mb4_nopad_bin PATH '$.label')) m
  WHERE m.label IS NOT NULL GROUP BY t.id, m.label;
