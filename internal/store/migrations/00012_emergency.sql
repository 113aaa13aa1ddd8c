-- +goose NO TRANSACTION
-- +goose Up
-- Whom to call and what to shut first, when something goes wrong on a farm.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS emergency JSON NOT NULL DEFAULT '{}';
