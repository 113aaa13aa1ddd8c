-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.
CREATE TABLE IF NOT EXISTS users (
    id            CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    email         VARCHAR(254) NOT NULL,
    name          VARCHAR(120) NOT NULL,
    password_hash VARCHAR(255) NOT NULL,
    created_at    DATETIME(6) NOT NULL,
    UNIQUE KEY users_email (email)
);

CREATE TABLE IF NOT EXISTS sessions (
    token  CHAR(43) PRIMARY KEY,
    data   BLOB NOT NULL,
    expiry TIMESTAMP(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
    KEY sessions_expiry (expiry)
);

CREATE TABLE IF NOT EXISTS sign_in_attempts (
    id   CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    mark VARCHAR(300) NOT NULL,
    at   DATETIME(6) NOT NULL,
    KEY sign_in_attempts_mark (mark, at)
);

CREATE TABLE IF NOT EXISTS held_clock (
    id TINYINT NOT NULL PRIMARY KEY,
    at DATETIME(6) NOT NULL
);

CREATE TABLE IF NOT EXISTS farms (
    id           CHAR(36) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    name         VARCHAR(120) NOT NULL,
    place        VARCHAR(120) NOT NULL,
    time_zone    VARCHAR(64) NOT NULL,
    units        VARCHAR(10) NOT NULL,
    aims         JSON NOT NULL,
    experience   VARCHAR(20) NOT NULL,
    longitude    DOUBLE NOT NULL,
    latitude     DOUBLE NOT NULL,
    move_minutes JSON NOT NULL,
    version      INT NOT NULL,
    created_at   DATETIME(6) NOT NULL
);

CREATE TABLE IF NOT EXISTS members (
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    user_id CHAR(36) CHARACTER SET ascii NOT NULL,
    role    VARCHAR(10) NOT NULL,
    PRIMARY KEY (farm_id, user_id),
    KEY members_user (user_id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (user_id) REFERENCES users (id)
);

-- What a client has asked to be written, by the id it made: a repeat is answered with the first result.
CREATE TABLE IF NOT EXISTS writes (
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    id      CHAR(36) CHARACTER SET ascii NOT NULL,
    digest  CHAR(64) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS fields (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    name       VARCHAR(120) NOT NULL,
    sward_id   VARCHAR(60) NOT NULL,
    removed_at DATETIME(6) NULL,
    version    INT NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS field_shapes (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    valid_from DATE NOT NULL,
    shape      MULTIPOLYGON NOT NULL,
    area_ha    DOUBLE NOT NULL,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY field_shapes_from (farm_id, field_id, valid_from),
    SPATIAL KEY field_shapes_shape (shape),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE
);

-- Ground inside a field that is not grazed.
CREATE TABLE IF NOT EXISTS exclusions (
    farm_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    id       CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id CHAR(36) CHARACTER SET ascii NOT NULL,
    name     VARCHAR(120) NOT NULL,
    shape    MULTIPOLYGON NOT NULL,
    PRIMARY KEY (farm_id, id),
    SPATIAL KEY exclusions_shape (shape),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS layouts (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    name        VARCHAR(120) NOT NULL,
    holds_from  DATE NOT NULL,
    holds_until DATE NULL,
    PRIMARY KEY (farm_id, id),
    KEY layouts_field (farm_id, field_id, holds_from),
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS paddocks (
    farm_id       CHAR(36) CHARACTER SET ascii NOT NULL,
    id            CHAR(36) CHARACTER SET ascii NOT NULL,
    layout_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    name          VARCHAR(120) NOT NULL,
    position      INT NOT NULL,
    sward_id      VARCHAR(60) NOT NULL,
    growth_factor DOUBLE NOT NULL,
    legume_share  DOUBLE NULL,
    closed_for    VARCHAR(120) NOT NULL,
    -- when the last animal left the ground this paddock was made from, if that was before it was made
    carried_left_at DATETIME(6) NULL,
    version       INT NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY paddocks_layout (farm_id, layout_id, position),
    FOREIGN KEY (farm_id, layout_id) REFERENCES layouts (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS paddock_shapes (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id CHAR(36) CHARACTER SET ascii NOT NULL,
    valid_from DATE NOT NULL,
    shape      MULTIPOLYGON NOT NULL,
    area_ha    DOUBLE NOT NULL,
    fence_m    DOUBLE NOT NULL,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY paddock_shapes_from (farm_id, paddock_id, valid_from),
    SPATIAL KEY paddock_shapes_shape (shape),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS mobs (
    farm_id      CHAR(36) CHARACTER SET ascii NOT NULL,
    id           CHAR(36) CHARACTER SET ascii NOT NULL,
    name         VARCHAR(120) NOT NULL,
    letter       CHAR(1) NOT NULL,
    glyph        VARCHAR(10) NOT NULL,
    described_on DATE NOT NULL,
    removed_at   DATETIME(6) NULL,
    version      INT NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS mob_classes (
    farm_id          CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id           CHAR(36) CHARACTER SET ascii NOT NULL,
    position         INT NOT NULL,
    reference_id     VARCHAR(60) NOT NULL,
    displayed_name   VARCHAR(120) NOT NULL,
    count            INT NOT NULL,
    live_weight_kg   DOUBLE NOT NULL,
    intake_share     DOUBLE NOT NULL,
    supplement_kg_dm DOUBLE NOT NULL,
    substitution     DOUBLE NOT NULL,
    daily_gain_kg    DOUBLE NOT NULL,
    PRIMARY KEY (farm_id, mob_id, position),
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id) ON DELETE CASCADE
);

-- The fields a mob grazes; a mob without rows grazes them all.
CREATE TABLE IF NOT EXISTS mob_fields (
    farm_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id   CHAR(36) CHARACTER SET ascii NOT NULL,
    field_id CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, mob_id, field_id),
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, field_id) REFERENCES fields (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS measurements (
    farm_id       CHAR(36) CHARACTER SET ascii NOT NULL,
    id            CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    method        VARCHAR(20) NOT NULL,
    figures       JSON NOT NULL,
    readings      JSON NOT NULL,
    guess         DOUBLE NULL,
    forage_mass   DOUBLE NOT NULL,
    half_width    DOUBLE NOT NULL,
    shared_error  DOUBLE NOT NULL,
    note          VARCHAR(1000) NOT NULL,
    measured_at   DATETIME(6) NOT NULL,
    recorded_at   DATETIME(6) NOT NULL,
    recorded_by   CHAR(36) CHARACTER SET ascii NOT NULL,
    replaces_id   CHAR(36) CHARACTER SET ascii NULL,
    withdrawn     BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY measurements_replaces (farm_id, replaces_id),
    KEY measurements_when (farm_id, measured_at),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, replaces_id) REFERENCES measurements (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);

CREATE TABLE IF NOT EXISTS moves (
    farm_id         CHAR(36) CHARACTER SET ascii NOT NULL,
    id              CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id          CHAR(36) CHARACTER SET ascii NOT NULL,
    from_paddock_id CHAR(36) CHARACTER SET ascii NULL,
    to_paddock_id   CHAR(36) CHARACTER SET ascii NULL,
    moved_at        DATETIME(6) NOT NULL,
    left_height_cm  DOUBLE NULL,
    left_mass       DOUBLE NULL,
    left_half_width DOUBLE NULL,
    note            VARCHAR(1000) NOT NULL,
    recorded_at     DATETIME(6) NOT NULL,
    recorded_by     CHAR(36) CHARACTER SET ascii NOT NULL,
    replaces_id     CHAR(36) CHARACTER SET ascii NULL,
    withdrawn       BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY moves_replaces (farm_id, replaces_id),
    KEY moves_when (farm_id, moved_at),
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id),
    FOREIGN KEY (farm_id, from_paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, to_paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, replaces_id) REFERENCES moves (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);

CREATE TABLE IF NOT EXISTS plans (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    starts_on  DATE NOT NULL,
    days       INT NOT NULL,
    version    INT NOT NULL,
    created_at DATETIME(6) NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY plans_when (farm_id, created_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);

-- Each mob of a plan with the plan's own copy of its school.
CREATE TABLE IF NOT EXISTS plan_mobs (
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    plan_id CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    school  JSON NOT NULL,
    PRIMARY KEY (farm_id, plan_id, mob_id),
    FOREIGN KEY (farm_id, plan_id) REFERENCES plans (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS pins (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    plan_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id CHAR(36) CHARACTER SET ascii NOT NULL,
    enter_at   DATETIME(6) NOT NULL,
    leave_at   DATETIME(6) NULL,
    PRIMARY KEY (farm_id, id),
    KEY pins_plan (farm_id, plan_id, enter_at),
    FOREIGN KEY (farm_id, plan_id) REFERENCES plans (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id) ON DELETE CASCADE
);

CREATE TABLE IF NOT EXISTS accepted_plans (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    plan_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    accepted_at DATETIME(6) NOT NULL,
    accepted_by CHAR(36) CHARACTER SET ascii NOT NULL,
    visits      JSON NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id, plan_id) REFERENCES plans (farm_id, id) ON DELETE CASCADE,
    FOREIGN KEY (accepted_by) REFERENCES users (id)
);
