-- +goose NO TRANSACTION
-- +goose Up
-- A paddock out of the round from a day until before another, or, where it opens, in the round although a limit of the year shuts it.
CREATE TABLE IF NOT EXISTS closures (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    opens       BOOLEAN NOT NULL DEFAULT FALSE,
    from_on     DATE NOT NULL,
    until_on    DATE NULL,                       -- the first day without it; null: not known yet
    why         VARCHAR(200) NOT NULL,
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- What a cut brought home. It stands as long as the measurement does that says what it left.
CREATE TABLE IF NOT EXISTS cuts (
    farm_id        CHAR(36) CHARACTER SET ascii NOT NULL,
    id             CHAR(36) CHARACTER SET ascii NOT NULL,
    measurement_id CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    cut_on         DATE NOT NULL,
    area_ha        DOUBLE NOT NULL,
    bales          DOUBLE NULL,
    bale_kg        DOUBLE NULL,                  -- as it lies
    dry_share      DOUBLE NULL,
    kg_dm          DOUBLE NULL,                  -- null: nobody weighed it
    note           VARCHAR(500) NOT NULL DEFAULT '',
    recorded_at    DATETIME(6) NOT NULL,
    recorded_by    CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY cuts_cut (farm_id, cut_on),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (farm_id, measurement_id) REFERENCES measurements (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- What comes into the fodder store otherwise, and what goes out of it; a count says what is there.
CREATE TABLE IF NOT EXISTS fodder (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    kind        VARCHAR(10) CHARACTER SET ascii NOT NULL,  -- bought, sold, fed, lost, counted
    on_day      DATE NOT NULL,
    what        VARCHAR(100) NOT NULL DEFAULT '',
    bales       DOUBLE NULL,
    bale_kg     DOUBLE NULL,
    dry_share   DOUBLE NULL,
    kg_dm       DOUBLE NOT NULL,
    note        VARCHAR(500) NOT NULL DEFAULT '',
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    withdrawn   BOOLEAN NOT NULL DEFAULT FALSE,
    PRIMARY KEY (farm_id, id),
    KEY fodder_day (farm_id, on_day),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- Nitrogen that was spread on a paddock.
CREATE TABLE IF NOT EXISTS dressings (
    farm_id     CHAR(36) CHARACTER SET ascii NOT NULL,
    id          CHAR(36) CHARACTER SET ascii NOT NULL,
    paddock_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    given_on    DATE NOT NULL,
    kg_n_ha     DOUBLE NOT NULL,
    note        VARCHAR(500) NOT NULL DEFAULT '',
    recorded_at DATETIME(6) NOT NULL,
    recorded_by CHAR(36) CHARACTER SET ascii NOT NULL,
    PRIMARY KEY (farm_id, id),
    KEY dressings_given (farm_id, given_on),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (farm_id, paddock_id) REFERENCES paddocks (farm_id, id),
    FOREIGN KEY (recorded_by) REFERENCES users (id)
);
-- What was decided of a queue's week: what was to be done, why, what was expected of it, and the rows that it wrote.
CREATE TABLE IF NOT EXISTS decisions (
    farm_id       CHAR(36) CHARACTER SET ascii NOT NULL,
    id            CHAR(36) CHARACTER SET ascii NOT NULL,
    made_at       DATETIME(6) NOT NULL,
    made_by       CHAR(36) CHARACTER SET ascii NOT NULL,
    mobs          JSON NOT NULL,                 -- whose queue it was
    reason        VARCHAR(500) NOT NULL,
    levers        JSON NOT NULL,
    expected      JSON NOT NULL,
    changes       LONGTEXT NOT NULL,
    taken_back_at DATETIME(6) NULL,
    taken_back_by CHAR(36) CHARACTER SET ascii NULL,
    PRIMARY KEY (farm_id, id),
    KEY decisions_made (farm_id, made_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (made_by) REFERENCES users (id)
);
-- The farm's own order of its paddocks in the queue; empty: none.
ALTER TABLE farms
    ADD COLUMN IF NOT EXISTS queue_order JSON NOT NULL DEFAULT '[]';
