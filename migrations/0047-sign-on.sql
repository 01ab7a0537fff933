-- How a session began, and how long it lasts unused.
ALTER TABLE session
  ADD COLUMN way ENUM('password', 'two factors', 'passkey', 'sign-on') NOT NULL DEFAULT 'password',
  ADD COLUMN idle_seconds INT UNSIGNED NOT NULL DEFAULT 28800,
  ADD COLUMN provider_id INT UNSIGNED NULL;

-- What is asked of whoever signs in; one row at most.
CREATE TABLE sign_in_policy (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  content JSON NOT NULL
);

-- A signing in that has begun: what was shown so far, and what the next step is checked against. For some minutes.
CREATE TABLE sign_in_step (
  -- SHA-256 of the cookie.
  id BINARY(32) NOT NULL PRIMARY KEY,
  kind VARCHAR(20) NOT NULL,
  account_id INT UNSIGNED NULL,
  -- Sealed.
  content TEXT NOT NULL,
  tries TINYINT UNSIGNED NOT NULL DEFAULT 0,
  expires_at DATETIME(3) NOT NULL,
  KEY by_time (expires_at),
  CONSTRAINT sign_in_step_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- The secret of one-time codes (RFC 6238), sealed.
CREATE TABLE one_time_code (
  account_id INT UNSIGNED NOT NULL PRIMARY KEY,
  secret TEXT NOT NULL,
  made_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  -- The step of 30 seconds whose code was used last: no code is good twice.
  last_step BIGINT UNSIGNED NOT NULL DEFAULT 0,
  CONSTRAINT one_time_code_account FOREIGN KEY (account_id) REFERENCES account (id)
);

CREATE TABLE recovery_code (
  account_id INT UNSIGNED NOT NULL,
  -- HMAC-SHA-256 of the code.
  code_hash BINARY(32) NOT NULL,
  made_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  PRIMARY KEY (account_id, code_hash),
  CONSTRAINT recovery_code_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- Credentials of Web Authentication.
CREATE TABLE passkey (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  name VARCHAR(120) NOT NULL,
  credential_id VARBINARY(1023) NOT NULL,
  -- SHA-256 of the credential's id.
  credential_hash BINARY(32) NOT NULL,
  public_key VARBINARY(2000) NOT NULL,
  counter BIGINT UNSIGNED NOT NULL,
  transports JSON NOT NULL,
  -- Kept by more than one device.
  synced BOOLEAN NOT NULL,
  made_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  UNIQUE KEY by_credential (credential_hash),
  KEY by_account (account_id),
  CONSTRAINT passkey_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- Whose word opens the desk, by OpenID Connect, and who keeps accounts, by SCIM.
CREATE TABLE identity_provider (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  issuer VARCHAR(500) NOT NULL,
  -- Sealed; empty where it has none.
  client_secret TEXT NOT NULL,
  content JSON NOT NULL,
  made_at DATETIME(3) NOT NULL,
  stopped_at DATETIME(3) NULL,
  -- SHA-256 of the token that it keeps accounts with; NULL where it does not.
  scim_hash BINARY(32) NULL,
  scim_made_at DATETIME(3) NULL,
  scim_ends_at DATETIME(3) NULL,
  scim_used_at DATETIME(3) NULL,
  UNIQUE KEY by_name (name),
  UNIQUE KEY by_token (scim_hash)
);

-- As whom a provider knows an account.
CREATE TABLE account_identity (
  provider_id INT UNSIGNED NOT NULL,
  subject VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  linked_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  PRIMARY KEY (provider_id, subject),
  UNIQUE KEY one_each (provider_id, account_id),
  CONSTRAINT account_identity_provider FOREIGN KEY (provider_id) REFERENCES identity_provider (id),
  CONSTRAINT account_identity_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- Accounts that a provider keeps by SCIM, and what it calls them.
CREATE TABLE kept_account (
  provider_id INT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  external_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
  -- What it signs in as there; NULL where that is the address.
  user_name VARCHAR(255) NULL,
  kept_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  -- It deleted the account there: here it is disabled, and not told of any more.
  dropped_at DATETIME(3) NULL,
  PRIMARY KEY (provider_id, account_id),
  CONSTRAINT kept_account_provider FOREIGN KEY (provider_id) REFERENCES identity_provider (id),
  CONSTRAINT kept_account_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- Groups of a provider, as it told them.
CREATE TABLE identity_group (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  provider_id INT UNSIGNED NOT NULL,
  name VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  external_id VARCHAR(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NULL,
  -- It keeps it by SCIM; else it was told at a sign-on.
  kept BOOLEAN NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  UNIQUE KEY by_name (provider_id, name),
  CONSTRAINT identity_group_provider FOREIGN KEY (provider_id) REFERENCES identity_provider (id)
);
CREATE TABLE identity_group_member (
  group_id INT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  PRIMARY KEY (group_id, account_id),
  KEY by_account (account_id),
  CONSTRAINT identity_group_member_group FOREIGN KEY (group_id) REFERENCES identity_group (id) ON DELETE CASCADE,
  CONSTRAINT identity_group_member_account FOREIGN KEY (account_id) REFERENCES account (id)
);

-- Roles that groups give come and go with them; the others were given by hand.
ALTER TABLE account_role ADD COLUMN by_groups BOOLEAN NOT NULL DEFAULT FALSE;
