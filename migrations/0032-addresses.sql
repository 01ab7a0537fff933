-- A site keeps its notice, decisions, sweeps and records when its address changes.
ALTER TABLE site
  -- Where it stood before its first change; empty until then.
  ADD COLUMN first_host VARCHAR(260) NOT NULL DEFAULT '',
  -- Every host that it stood at before, as JSON: receipts name them.
  ADD COLUMN hosts_were LONGTEXT CHARACTER SET utf8mb4 NULL,
  -- Other hosts that it answers at, as JSON.
  ADD COLUMN also_at LONGTEXT CHARACTER SET utf8mb4 NULL,
  ADD COLUMN retired_at DATETIME(3) NULL;

-- The host that a receipt names; empty in records from before sites could move.
ALTER TABLE consent_record ADD COLUMN host VARCHAR(260) NOT NULL DEFAULT '';
