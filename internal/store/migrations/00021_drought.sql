-- +goose NO TRANSACTION
-- +goose Up
-- What is done when growth lags, and when it is too wet to graze; empty: nobody said.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS drought JSON NOT NULL DEFAULT '{}';
