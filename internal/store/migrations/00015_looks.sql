-- +goose NO TRANSACTION
-- +goose Up
-- What somebody has to do, where and by when.
CREATE TABLE IF NOT EXISTS jobs (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    id         CHAR(36) CHARACTER SET ascii NOT NULL,
    kind       VARCHAR(10) CHARACTER SET ascii NOT NULL,  -- fence, water, power, stock, other
    what       VARCHAR(300) NOT NULL,
    paddock_id CHAR(36) CHARACTER SET ascii NULL,
    longitude  DOUBLE NULL,
    latitude   DOUBLE NULL,
    due_on     DATE NULL,
    every_days INT NOT NULL DEFAULT 0,                     -- 0: once
    for_id     CHAR(36) CHARACTER SET ascii NULL,          -- whose it is
    made_at    DATETIME(6) NOT NULL,
    made_by    CHAR(36) CHARACTER SET ascii NOT NULL,
    done_at    DATETIME(6) NULL,
    done_by    CHAR(36) CHARACTER SET ascii NULL,
    minutes    INT NULL,                                   -- of labour
    done_note  VARCHAR(500) NOT NULL DEFAULT '',
    after_id   CHAR(36) CHARACTER SET ascii NULL,          -- the one before it of those that come again
    withdrawn  BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY jobs_open (farm_id, withdrawn, done_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (made_by) REFERENCES users (id)
);
-- What was seen of a paddock and the stock on it, before, while and after they grazed.
CREATE TABLE IF NOT EXISTS looks (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id      CHAR(36) CHARACTER SET ascii NULL,
    seen_at     DATETIME(6) NOT NULL,
    stage       VARCHAR(10) CHARACTER SET ascii NOT NULL,
    answers     JSON NOT NULL,
    ground      JSON NOT NULL,                             -- shares of what covers it
    note        VARCHAR(500) NOT NULL DEFAULT '',
    return_on   DATE NULL,                                 -- to look again
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    replaces_id CHAR(36) CHARACTER SET ascii NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY looks_seen (farm_id, seen_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- A product given to stock, or put on ground, as it was typed, and until when it withholds them.
CREATE TABLE IF NOT EXISTS treatments (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    mob_id      CHAR(36) CHARACTER SET ascii NULL,         -- one of the two
    paddock_id  CHAR(36) CHARACTER SET ascii NULL,
    product     VARCHAR(200) NOT NULL,
    given_on    DATE NOT NULL,
    until_day   DATE NULL,                                 -- the first day on which it no longer withholds
    tags        VARCHAR(500) NOT NULL DEFAULT '',          -- which animals; empty: all
    note        VARCHAR(500) NOT NULL DEFAULT '',
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY treatments_until (farm_id, until_day),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, mob_id) REFERENCES mobs (farm_id, id),
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- A photo's stage of a stay, and the point it is taken from again and again.
ALTER TABLE photos
    ADD COLUMN IF NOT EXISTS stage VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT '',
    ADD COLUMN IF NOT EXISTS point VARCHAR(80) NOT NULL DEFAULT '';
