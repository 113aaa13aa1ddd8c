-- +goose NO TRANSACTION
-- +goose Up
-- Grazed and ungrazed plants of a key species, measured on one day; use by weight is worked out of them.
CREATE TABLE IF NOT EXISTS tallies (
    farm_id       CHAR(36) CHARACTER SET ascii NOT NULL,
    id            CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id        CHAR(36) CHARACTER SET ascii NULL,       -- that grazes it
    counted_at    DATETIME(6) NOT NULL,
    tally         JSON NOT NULL,
    recorded_at   DATETIME(6) NOT NULL,
    recorded_by   CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn     BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY tallies_counted (farm_id, counted_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- Classes of stock that do not know electric fence yet, from a day, until somebody has seen them keep off it.
CREATE TABLE IF NOT EXISTS trainings (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    class_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    why         VARCHAR(10) CHARACTER SET ascii NOT NULL,  -- bought, young, other
    since_on    DATE NOT NULL,
    weeks       INT NOT NULL,
    trained_on  DATE NULL,
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY trainings_open (farm_id, withdrawn, trained_on),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, class_id) REFERENCES stock_groups (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- What was seen of the classes of a mob at a look.
ALTER TABLE looks
    ADD COLUMN IF NOT EXISTS animals JSON NOT NULL DEFAULT '[]';
-- What the farm wants of its ground and its fences; empty: what is usual.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS targets JSON NOT NULL DEFAULT '{}';
-- Whether somebody saw one of them drink after the move; null: nobody said.
ALTER TABLE moves
    ADD COLUMN IF NOT EXISTS drink_seen BOOLEAN NULL;
