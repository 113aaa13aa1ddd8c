-- +goose NO TRANSACTION
-- +goose Up
-- Days of the week on which stock are moved, Monday being 1; none: any. Days on which nobody is there to move them.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS move_weekdays JSON NOT NULL DEFAULT '[]',
    ADD COLUMN IF NOT EXISTS away          JSON NOT NULL DEFAULT '[]';
