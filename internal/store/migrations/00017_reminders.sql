-- +goose NO TRANSACTION
-- +goose Up
-- Of what a person wants to be reminded by mail, on a farm, and at which minute of the day; nothing, unless they say so.
CREATE TABLE IF NOT EXISTS reminders (
    farm_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    user_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    kinds     JSON NOT NULL,
    at_minute INT NOT NULL,
    sent_on   DATE NULL, -- the farm's day on which the last one went, or there was nothing to say
    PRIMARY KEY (farm_id, user_id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (user_id) REFERENCES users (id)
);
