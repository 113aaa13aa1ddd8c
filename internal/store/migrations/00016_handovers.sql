-- +goose NO TRANSACTION
-- +goose Up
-- Cards for whoever takes over for some days: read by a link that ends on a day. Only the mark of a link is kept.
CREATE TABLE IF NOT EXISTS handovers (
    farm_id  CHAR(36) CHARACTER SET ascii NOT NULL,
    id       CHAR(36) CHARACTER SET ascii NOT NULL,
    digest   CHAR(64) CHARACTER SET ascii NOT NULL,
    whom     VARCHAR(80) NOT NULL,
    from_day DATE NOT NULL,
    last_day DATE NOT NULL,
    normal   VARCHAR(2000) NOT NULL,
    made_by  CHAR(36) CHARACTER SET ascii NOT NULL,
    made_at  DATETIME(6) NOT NULL,
    ended_at DATETIME(6) NULL,
    PRIMARY KEY (farm_id, id),
    UNIQUE KEY handovers_digest (digest),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (made_by) REFERENCES users (id)
);
