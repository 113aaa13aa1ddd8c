-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.

-- A layout is a way to divide a field; the days it holds are spans, so that "spring six" can come back every spring
-- with its paddocks and their records.
CREATE TABLE IF NOT EXISTS layout_spans (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    layout_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    holds_from  DATE NOT NULL,
    holds_until DATE NULL,
    -- what stood on the ground has been passed on to this layout's paddocks
    carried     BOOLEAN NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY layout_spans_when (farm_id, field_id, holds_from),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, layout_id) REFERENCES layouts (farm_id, id) ON DELETE CASCADE
);
-- +goose StatementBegin
BEGIN NOT ATOMIC
    IF EXISTS (SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = 'layouts' AND column_name = 'holds_from') THEN
        INSERT IGNORE INTO layout_spans (farm_id, id, field_id, layout_id, holds_from, holds_until, carried)
            SELECT farm_id, id, field_id, id, holds_from, holds_until, TRUE FROM layouts;
    END IF;
END;
-- +goose StatementEnd

ALTER TABLE layouts
    ADD KEY IF NOT EXISTS layouts_of_field (farm_id, field_id, name),
    DROP KEY IF EXISTS layouts_field,
    DROP COLUMN IF EXISTS holds_from,
    DROP COLUMN IF EXISTS holds_until,
    ADD COLUMN IF NOT EXISTS intent     VARCHAR(10) NOT NULL DEFAULT '', -- what its paddocks share equally: area, feed, or nothing
    ADD COLUMN IF NOT EXISTS temporary  BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS removed_at DATETIME(6) NULL;

ALTER TABLE exclusions ADD COLUMN IF NOT EXISTS kind VARCHAR(10) NOT NULL DEFAULT 'other';

-- Things that stand on the land: gates, water, fences, lanes.
CREATE TABLE IF NOT EXISTS marks (
    farm_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    id        CHAR(36) CHARACTER SET ascii NOT NULL,
    kind      VARCHAR(10) NOT NULL,
    name      VARCHAR(120) NOT NULL,
    temporary BOOLEAN NOT NULL,
    width_m   DOUBLE NULL,
    path      GEOMETRY NOT NULL,
    PRIMARY KEY (farm_id, id),
    SPATIAL KEY marks_path (path),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- Ground of a field that grows more or less than the rest of it.
CREATE TABLE IF NOT EXISTS zones (
    farm_id       CHAR(36) CHARACTER SET ascii NOT NULL,
    id            CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    name          VARCHAR(120) NOT NULL,
    growth_factor DOUBLE NOT NULL,
    shape         MULTIPOLYGON NOT NULL,
    PRIMARY KEY (farm_id, id),
    SPATIAL KEY zones_shape (shape),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE
);

ALTER TABLE paddocks
    ADD COLUMN IF NOT EXISTS purpose       VARCHAR(10) NOT NULL DEFAULT 'grazing', -- grazing, loafing, reserve
    ADD COLUMN IF NOT EXISTS slope_degrees DOUBLE NULL,
    ADD COLUMN IF NOT EXISTS wetness       VARCHAR(10) NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS aspect        VARCHAR(2) NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS shade         VARCHAR(10) NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS has_water     BOOLEAN NULL,
    ADD COLUMN IF NOT EXISTS limits        JSON NOT NULL DEFAULT '[]',
    ADD COLUMN IF NOT EXISTS rest_from     DATE NULL,
    ADD COLUMN IF NOT EXISTS notes         VARCHAR(2000) NOT NULL DEFAULT '',
    -- the paddock was joined to another on this day; its records stay
    ADD COLUMN IF NOT EXISTS ended_on      DATE NULL;

-- Every edit of the land with the rows it wrote, as they were and as they are, so that it can be undone.
CREATE TABLE IF NOT EXISTS land_steps (
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    id      CHAR(36) CHARACTER SET ascii NOT NULL,
    batch   CHAR(36) CHARACTER SET ascii NOT NULL, -- steps of one batch are undone together
    label   VARCHAR(200) NOT NULL,
    changes LONGTEXT NOT NULL,
    undone  BOOLEAN NOT NULL,
    made_at DATETIME(6) NOT NULL,
    made_by CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY land_steps_when (farm_id, made_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (made_by) REFERENCES users (id)
);

ALTER TABLE farms ADD COLUMN IF NOT EXISTS tile_address VARCHAR(300) NOT NULL DEFAULT '';

-- The farm's own picture of its ground, laid on the map by three of its corners.
CREATE TABLE IF NOT EXISTS ground_pictures (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    name         VARCHAR(120) NOT NULL,
    content_type VARCHAR(40) NOT NULL,
    corners      JSON NOT NULL,
    content      LONGBLOB NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- Heights the farm brought, and the contours drawn from them.
CREATE TABLE IF NOT EXISTS heights (
    farm_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    id       CHAR(36) CHARACTER SET ascii NOT NULL,
    name     VARCHAR(120) NOT NULL,
    step_m   DOUBLE NOT NULL,
    contours LONGTEXT NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);
