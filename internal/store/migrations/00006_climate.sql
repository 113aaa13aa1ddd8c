-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS curve_months JSON NOT NULL DEFAULT '{}',              -- months that a sward's growth curve is put later by
    ADD COLUMN IF NOT EXISTS elevation_m  DOUBLE NOT NULL DEFAULT 0,
    ADD COLUMN IF NOT EXISTS coast        VARCHAR(12) NOT NULL DEFAULT 'inland',
    ADD COLUMN IF NOT EXISTS normals_c    JSON NOT NULL DEFAULT '[]';              -- twelve monthly means that somebody typed; none: estimated

-- Where a mob was before somebody described it, and when it stands in the house and eats no grass.
ALTER TABLE mobs
    ADD COLUMN IF NOT EXISTS here_since DATE NULL,
    ADD COLUMN IF NOT EXISTS housed     JSON NOT NULL DEFAULT '[]';

-- What the mean of a walk errs by, apart from the interval that is shown; none: told by that interval.
ALTER TABLE measurements ADD COLUMN IF NOT EXISTS sampling_error DOUBLE NOT NULL DEFAULT 0;

-- Swards of the farm's own, each like one of the reference.
CREATE TABLE IF NOT EXISTS own_swards (
    farm_id        CHAR(36) CHARACTER SET ascii NOT NULL,
    id             CHAR(36) CHARACTER SET ascii NOT NULL,
    name           VARCHAR(120) NOT NULL,
    like_id        VARCHAR(60) NOT NULL,
    start_cm       DOUBLE NOT NULL,
    stop_cm        DOUBLE NOT NULL,
    mass_per_cm    DOUBLE NOT NULL,
    residual_kg    DOUBLE NOT NULL,
    ceiling_kg     DOUBLE NOT NULL,
    peak_growth    DOUBLE NOT NULL,
    annual_yield_t DOUBLE NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);
