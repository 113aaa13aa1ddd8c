-- +goose NO TRANSACTION
-- +goose Up
-- A plan that was begun and taken back stays with its records; the one before it holds again.
ALTER TABLE plans ADD COLUMN IF NOT EXISTS ended_at DATETIME(6) NULL;
