-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.

-- Every write on a farm raises the version of its facts, under the lock of its row.
ALTER TABLE farms ADD COLUMN IF NOT EXISTS facts_version BIGINT NOT NULL DEFAULT 1,
    ADD COLUMN IF NOT EXISTS parts JSON NOT NULL DEFAULT '{}'; -- the version at which each part of them was last written

-- The order of edits and of plans rests on that version, not on the clocks of processes.
ALTER TABLE land_steps ADD COLUMN IF NOT EXISTS seq BIGINT NOT NULL DEFAULT 0;
UPDATE land_steps s JOIN (SELECT farm_id, id, ROW_NUMBER() OVER (PARTITION BY farm_id ORDER BY made_at, id) AS n FROM land_steps) o
    ON o.farm_id = s.farm_id AND o.id = s.id SET s.seq = o.n WHERE s.seq = 0;
ALTER TABLE land_steps ADD KEY IF NOT EXISTS land_steps_order (farm_id, seq);
ALTER TABLE plans ADD COLUMN IF NOT EXISTS seq BIGINT NOT NULL DEFAULT 0;
UPDATE plans s JOIN (SELECT farm_id, id, ROW_NUMBER() OVER (PARTITION BY farm_id ORDER BY created_at, id) AS n FROM plans) o
    ON o.farm_id = s.farm_id AND o.id = s.id SET s.seq = o.n WHERE s.seq = 0;
ALTER TABLE plans ADD KEY IF NOT EXISTS plans_order (farm_id, seq);
UPDATE farms f SET facts_version = GREATEST(facts_version, 1 + (SELECT COALESCE(MAX(seq), 0) FROM land_steps s WHERE s.farm_id = f.id),
    1 + (SELECT COALESCE(MAX(seq), 0) FROM plans p WHERE p.farm_id = f.id));

-- Everything that is edited has a version, so that two people cannot overwrite each other unseen.
ALTER TABLE layouts ADD COLUMN IF NOT EXISTS version INT NOT NULL DEFAULT 1;
ALTER TABLE calibrations ADD COLUMN IF NOT EXISTS version INT NOT NULL DEFAULT 1;

-- A correction may come before what it corrects: what is held on a phone is sent in any order.
ALTER TABLE measurements DROP FOREIGN KEY IF EXISTS measurements_ibfk_2;
