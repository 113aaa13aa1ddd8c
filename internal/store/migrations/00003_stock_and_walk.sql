-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.

-- A class of animals of the farm's own, like one of the reference but with its own figures.
CREATE TABLE IF NOT EXISTS own_classes (
    farm_id        CHAR(36) CHARACTER SET ascii NOT NULL,
    id             CHAR(36) CHARACTER SET ascii NOT NULL,
    name           VARCHAR(120) NOT NULL,
    like_id        VARCHAR(60) NOT NULL,
    live_weight_kg DOUBLE NOT NULL,
    intake_share   DOUBLE NOT NULL,
    daily_gain_kg  DOUBLE NOT NULL,
    livestock_unit DOUBLE NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- A class of animals of a mob, or kept outside any, as it was on the day it was first described. Head come and go by
-- events.
CREATE TABLE IF NOT EXISTS stock_groups (
    farm_id        CHAR(36) CHARACTER SET ascii NOT NULL,
    id             CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id         CHAR(36) CHARACTER SET ascii NULL,
    position       INT NOT NULL,
    reference_id   VARCHAR(60) NOT NULL,
    name           VARCHAR(120) NOT NULL,
    described_on   DATE NOT NULL,
    head           INT NOT NULL,
    live_weight_kg DOUBLE NOT NULL,
    intake_share   DOUBLE NOT NULL,
    daily_gain_kg  DOUBLE NOT NULL,
    supplements    JSON NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY stock_groups_mob (farm_id, mob_id, position),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id) ON DELETE CASCADE
);
-- +goose StatementBegin
BEGIN NOT ATOMIC
    IF EXISTS (SELECT 1 FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'mob_classes') THEN
        START TRANSACTION;
        DELETE FROM stock_groups; -- of an attempt that was stopped before mob_classes went
        INSERT INTO stock_groups (farm_id, id, mob_id, position, reference_id, name, described_on, head, live_weight_kg, intake_share, daily_gain_kg, supplements)
            SELECT c.farm_id, UUID(), c.mob_id, c.position, c.reference_id, c.displayed_name, m.described_on, c.count, c.live_weight_kg, c.intake_share, c.daily_gain_kg,
                IF(c.supplement_kg_dm > 0, JSON_ARRAY(JSON_OBJECT('from', DATE_FORMAT(m.described_on, '%Y-%m-%d'), 'supplement_kg_dm', c.supplement_kg_dm, 'substitution', c.substitution)), '[]')
            FROM mob_classes c JOIN mobs m ON m.farm_id = c.farm_id AND m.id = c.mob_id;
        COMMIT;
    END IF;
END;
-- +goose StatementEnd
DROP TABLE IF EXISTS mob_classes;

-- What happens to stock, as planned and as it was. A correction is a new row that names the one it replaces.
CREATE TABLE IF NOT EXISTS stock_events (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    kind         VARCHAR(10) NOT NULL,
    planned_on   DATE NULL,
    planned_head INT NULL,
    happened_on  DATE NULL,
    head         INT NOT NULL,
    from_id      CHAR(36) CHARACTER SET ascii NULL,
    into_id      CHAR(36) CHARACTER SET ascii NULL,
    of_id        CHAR(36) CHARACTER SET ascii NULL,
    weight_kg    DOUBLE NULL,
    becomes      VARCHAR(60) NOT NULL, -- the class that the animals it is about become
    intake_share DOUBLE NULL,
    gain_kg      DOUBLE NULL,
    note         VARCHAR(1000) NOT NULL,
    recorded_at  DATETIME(6) NOT NULL,
    recorded_by  CHAR(36) CHARACTER SET ascii NOT NULL,
    replaces_id  CHAR(36) CHARACTER SET ascii NULL,
    withdrawn    BOOLEAN NOT NULL,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY stock_events_replaces (farm_id, replaces_id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, from_id) REFERENCES stock_groups (farm_id, id),
    FOREIGN KEY (farm_id, into_id) REFERENCES stock_groups (farm_id, id),
    FOREIGN KEY (farm_id, of_id) REFERENCES stock_groups (farm_id, id),
    FOREIGN KEY (farm_id, replaces_id) REFERENCES stock_events (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);

-- A line from height to mass, fitted through clips. Several are kept; the latest that fits the sward and the day holds.
CREATE TABLE IF NOT EXISTS calibrations (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    name         VARCHAR(120) NOT NULL,
    method       VARCHAR(20) NOT NULL,
    sward_id     VARCHAR(60) NOT NULL, -- empty: every sward
    season_from  VARCHAR(5) NOT NULL,  -- MM-DD; empty: all year
    season_until VARCHAR(5) NOT NULL,
    made_on      DATE NOT NULL,
    pairs        JSON NOT NULL,
    slope        DOUBLE NOT NULL,
    intercept    DOUBLE NOT NULL,
    r_squared    DOUBLE NOT NULL,
    error_kg     DOUBLE NOT NULL,
    retired      BOOLEAN NOT NULL,
    created_at   DATETIME(6) NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- All of it or nothing: one statement changes a table as a whole.
-- +goose StatementBegin
BEGIN NOT ATOMIC
    IF NOT EXISTS (SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = 'measurements' AND column_name = 'details') THEN
        ALTER TABLE measurements
            ADD COLUMN details        JSON NOT NULL DEFAULT '{}', -- zones, conditions, counters, fists
            ADD COLUMN calibration_id CHAR(36) CHARACTER SET ascii NULL,
            ADD COLUMN source         VARCHAR(10) NOT NULL DEFAULT '', -- device or file; empty: a person on foot
            ADD COLUMN reason         VARCHAR(200) NOT NULL DEFAULT '', -- why it replaces another
            ADD COLUMN answer         VARCHAR(20) NOT NULL DEFAULT '', -- what a person said of one that was far off
            ADD FOREIGN KEY (farm_id, calibration_id) REFERENCES calibrations (farm_id, id);
    END IF;
END;
-- +goose StatementEnd

-- What sends readings by itself: known by a token, of which only the digest is kept.
CREATE TABLE IF NOT EXISTS devices (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    name         VARCHAR(120) NOT NULL,
    kind         VARCHAR(10) NOT NULL,
    token_digest CHAR(64) CHARACTER SET ascii NOT NULL,
    revoked      BOOLEAN NOT NULL,
    created_at   DATETIME(6) NOT NULL,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY devices_token (token_digest),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- Single readings as they came: from the keypad the moment they were entered, from devices, from files.
CREATE TABLE IF NOT EXISTS readings (
    farm_id        CHAR(36) CHARACTER SET ascii NOT NULL,
    id             CHAR(36) CHARACTER SET ascii NOT NULL,
    stop_id        CHAR(36) CHARACTER SET ascii NULL, -- the measurement they become
    paddock_id     CHAR(36) CHARACTER SET ascii NULL,
    device_id      CHAR(36) CHARACTER SET ascii NULL,
    source         VARCHAR(120) NOT NULL,
    method         VARCHAR(20) NOT NULL,
    value          DOUBLE NOT NULL,
    zone           VARCHAR(120) NOT NULL,
    longitude      DOUBLE NULL,
    latitude       DOUBLE NULL,
    taken_at       DATETIME(6) NOT NULL,
    received_at    DATETIME(6) NOT NULL,
    taken_by       CHAR(36) CHARACTER SET ascii NULL,
    dropped        BOOLEAN NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY readings_waiting (farm_id, stop_id, taken_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, device_id) REFERENCES devices (farm_id, id),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS photos (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    stop_id      CHAR(36) CHARACTER SET ascii NOT NULL, -- the measurement they belong to, which may come after them
    paddock_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    content_type VARCHAR(40) NOT NULL,
    content      LONGBLOB NOT NULL,
    taken_at     DATETIME(6) NOT NULL,
    taken_by     CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY photos_stop (farm_id, stop_id),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (taken_by) REFERENCES users (id)
);

CREATE TABLE IF NOT EXISTS weather_days (
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    day     DATE NOT NULL,
    rain_mm DOUBLE NOT NULL,
    mean_c  DOUBLE NOT NULL,
    least_c DOUBLE NULL,
    most_c  DOUBLE NULL,
    sun_h   DOUBLE NULL,
    source  VARCHAR(10) NOT NULL, -- hand, file, station
    PRIMARY KEY (farm_id, day),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS walk_order   JSON NOT NULL DEFAULT '[]', -- the farm's own order of paddocks; empty: the shortest way round
    ADD COLUMN IF NOT EXISTS curves       JSON NOT NULL DEFAULT '{}', -- growth curve by sward, where it is not the sward's usual one
    ADD COLUMN IF NOT EXISTS soil_mm      DOUBLE NOT NULL DEFAULT 90, -- water the soil holds for roots
    ADD COLUMN IF NOT EXISTS station_seed BIGINT NULL,                -- the stand-in weather station, where one is used
    ADD COLUMN IF NOT EXISTS station_from DATE NULL;
