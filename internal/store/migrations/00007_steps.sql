-- +goose NO TRANSACTION
-- +goose Up
-- A fixed move that was let go or put elsewhere stays, so that it can be put back.
ALTER TABLE pins ADD COLUMN IF NOT EXISTS ended_at DATETIME(6) NULL;

-- Links that are good once: to join a farm, or to choose a new password. Only a digest of what they say is kept.
CREATE TABLE IF NOT EXISTS links (
    digest  CHAR(64) CHARACTER SET ascii NOT NULL PRIMARY KEY,
    farm_id CHAR(36) CHARACTER SET ascii NULL,
    user_id CHAR(36) CHARACTER SET ascii NULL,
    role    VARCHAR(12) NOT NULL DEFAULT '',
    made_by CHAR(36) CHARACTER SET ascii NOT NULL,
    made_at DATETIME(6) NOT NULL,
    ends_at DATETIME(6) NOT NULL,
    used_by CHAR(36) CHARACTER SET ascii NULL,
    KEY links_farm (farm_id, ends_at),
    KEY links_user (user_id, ends_at),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE
);
