-- +goose NO TRANSACTION
-- +goose Up
-- The farm's own losses of conserved feed; null: nobody said.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS cut_loss DOUBLE NULL,
    ADD COLUMN IF NOT EXISTS feed_loss DOUBLE NULL;
