-- Which roles somebody holds: the name of one that ships, or the number of a rule of the kind “role”.
CREATE TABLE account_role (
  account_id INT UNSIGNED NOT NULL,
  role VARCHAR(40) CHARACTER SET ascii NOT NULL,
  given_by INT UNSIGNED NULL,
  given_at DATETIME(3) NOT NULL,
  PRIMARY KEY (account_id, role),
  KEY by_role (role, account_id),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);
INSERT INTO account_role (account_id, role, given_at) SELECT id, role, created_at FROM account;
ALTER TABLE account DROP COLUMN role;

-- On how many days somebody did what a permission allows, and when last.
CREATE TABLE permission_use (
  account_id INT UNSIGNED NOT NULL,
  action VARCHAR(60) CHARACTER SET ascii NOT NULL,
  first_on DATE NOT NULL,
  last_on DATE NOT NULL,
  days INT UNSIGNED NOT NULL,
  PRIMARY KEY (account_id, action),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
);
