-- +goose NO TRANSACTION
-- +goose Up
-- Every step can be taken again: a server that was stopped halfway goes on from wherever it was.

-- Compared letter by letter: a token or an address that only looks alike is another.
ALTER TABLE users MODIFY email VARCHAR(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;
ALTER TABLE devices MODIFY token_digest CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- Sessions are known by the digest of their token; those of before, kept by the token itself, have ended.
DELETE FROM sessions WHERE CHAR_LENGTH(token) = 43 AND NOT EXISTS (SELECT 1 FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = 'sessions' AND column_name = 'token' AND collation_name = 'ascii_bin');
ALTER TABLE sessions MODIFY token CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;

-- What was tried at the door, counted before it is known whether it was right.
ALTER TABLE sign_in_attempts ADD COLUMN IF NOT EXISTS kind VARCHAR(10) CHARACTER SET ascii NOT NULL DEFAULT 'sign-in';
ALTER TABLE sign_in_attempts MODIFY mark VARCHAR(400) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;
CREATE TABLE IF NOT EXISTS known_devices (
    user_id CHAR(36) CHARACTER SET ascii NOT NULL,
    digest  CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    seen_at DATETIME(6) NOT NULL,
    PRIMARY KEY (user_id, digest),
    FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE
);

-- Nobody is put on a farm unasked.
CREATE TABLE IF NOT EXISTS invitations (
    farm_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    user_id    CHAR(36) CHARACTER SET ascii NOT NULL,
    role       VARCHAR(10) NOT NULL,
    invited_by CHAR(36) CHARACTER SET ascii NOT NULL,
    invited_at DATETIME(6) NOT NULL,
    PRIMARY KEY (farm_id, user_id),
    KEY invitations_user (user_id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE,
    FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE
);

-- What its keepers may want to know of afterwards.
CREATE TABLE IF NOT EXISTS audit_lines (
    id      BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
    farm_id CHAR(36) CHARACTER SET ascii NOT NULL,
    at      DATETIME(6) NOT NULL,
    user_id CHAR(36) CHARACTER SET ascii NOT NULL,
    what    VARCHAR(40) NOT NULL,
    about   VARCHAR(300) NOT NULL,
    KEY audit_lines_farm (farm_id, id),
    FOREIGN KEY (farm_id) REFERENCES farms (id) ON DELETE CASCADE
);
