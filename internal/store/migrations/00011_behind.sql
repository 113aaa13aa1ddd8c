-- +goose NO TRANSACTION
-- +goose Up
-- How many moves a farm has hands for on a day, 0 being any number; the mob whose paddocks one gets when that goes on.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS most_moves INT NOT NULL DEFAULT 0;
-- Whether searches weigh moves by what they come to in a poor season.
ALTER TABLE plans
    ADD COLUMN IF NOT EXISTS careful BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE plan_mobs
    ADD COLUMN IF NOT EXISTS follows CHAR(36) CHARACTER SET ascii NULL;
ALTER TABLE plan_mobs
    ADD CONSTRAINT plan_mobs_follows FOREIGN KEY IF NOT EXISTS (farm_id, follows) REFERENCES mobs (farm_id, id);
