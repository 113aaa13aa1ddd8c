-- +goose NO TRANSACTION
-- +goose Up
-- What was seen at a gate, what Fjell said of it, and what was done. Each has the measurement of the same id.
CREATE TABLE IF NOT EXISTS gate_calls (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    seen_at     DATETIME(6) NOT NULL,
    mass        DOUBLE NOT NULL,          -- kg DM/ha
    said        VARCHAR(10) NOT NULL,     -- move, stay, skip, hold
    did         VARCHAR(10) NOT NULL,
    reason      VARCHAR(500) NOT NULL,    -- why, where that is another
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY gate_calls_seen (farm_id, seen_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- What was counted through a gate, and the volts of the fence, kV, at its source and its far end.
ALTER TABLE moves
    ADD COLUMN IF NOT EXISTS counted INT NULL,
    ADD COLUMN IF NOT EXISTS source_kv DOUBLE NULL,
    ADD COLUMN IF NOT EXISTS end_kv DOUBLE NULL;
-- The farm's own steps of a move day, and the usual ones it leaves out; empty: the usual ones.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS routine JSON NOT NULL DEFAULT '{}';
-- Of what needs minding, the kinds that a person wants quiet, and those they want first.
ALTER TABLE users
    ADD COLUMN IF NOT EXISTS minding JSON NOT NULL DEFAULT '{}';
