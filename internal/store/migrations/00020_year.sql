-- +goose NO TRANSACTION
-- +goose Up
-- What a farm pays, or forgoes, from a day on: a hectare of an input, a tonne as it is delivered, or a head.
CREATE TABLE IF NOT EXISTS prices (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    item        VARCHAR(64) CHARACTER SET ascii NOT NULL,  -- an input of the reference, or: head
    from_on     DATE NOT NULL,
    amount      DOUBLE NOT NULL,
    bale_price  DOUBLE NULL,                               -- where it was worked out from bales
    haulage     DOUBLE NULL,
    bale_kg     DOUBLE NULL,
    note        VARCHAR(500) NOT NULL DEFAULT '',
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY prices_item (farm_id, item, from_on),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- Options on a year that were thought through together, with why. Their months count from the month it was made in.
CREATE TABLE IF NOT EXISTS scenarios (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    name        VARCHAR(80) NOT NULL,
    reason      VARCHAR(500) NOT NULL,
    from_on     DATE NOT NULL,
    options     JSON NOT NULL,
    mobs        JSON NOT NULL,                             -- of each option about head: whose
    made_at     DATETIME(6) NOT NULL,
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- The farm's money, as its three letters; empty: nobody said.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS currency CHAR(3) CHARACTER SET ascii NOT NULL DEFAULT '';
