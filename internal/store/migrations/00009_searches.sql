-- +goose NO TRANSACTION
-- +goose Up
-- What searches for a better plan came to. The latest of a plan that was not taken back holds.
CREATE TABLE IF NOT EXISTS searches (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    plan_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    plan_version INT NOT NULL,             -- of the rules it was made by
    parts        JSON NOT NULL,            -- the versions of the facts it was made from
    seq          BIGINT NOT NULL,
    found_at     DATETIME(6) NOT NULL,
    rounds       INT NOT NULL,
    whole        BOOLEAN NOT NULL,         -- every round ended by itself
    took_ms      INT NOT NULL,
    spared_kg    DOUBLE NOT NULL,          -- over the plan that there was
    most_kg      DOUBLE NULL,              -- no plan spares more over what it found
    moves        JSON NOT NULL,
    ended_at     DATETIME(6) NULL,
    PRIMARY KEY (farm_id, id),
    KEY searches_plan (farm_id, plan_id, seq),
    FOREIGN KEY (farm_id, plan_id) REFERENCES plans (farm_id, id) ON DELETE CASCADE
);
