-- +goose NO TRANSACTION
-- +goose Up
-- What somebody says is so, from a day until before another: the cautions go by it.
CREATE TABLE IF NOT EXISTS conditions (
    farm_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    id        CHAR(36) CHARACTER SET ascii NOT NULL,
    name      VARCHAR(60) CHARACTER SET ascii NOT NULL,
    value     JSON NOT NULL,
    from_day  DATE NOT NULL,
    until_day DATE NULL,
    said_by   CHAR(36) CHARACTER SET ascii NOT NULL,
    said_at   DATETIME(6) NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY conditions_until (farm_id, until_day),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (said_by) REFERENCES users (id)
);
-- The cautions that a person has seen, quiet for them until their conditions return.
ALTER TABLE users
    ADD COLUMN IF NOT EXISTS put_away JSON NOT NULL DEFAULT '[]';
