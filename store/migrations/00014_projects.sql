-- +goose Up
ALTER TABLE material ADD COLUMN IF NOT EXISTS accepted BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'what batches have taught of it is predicted with';
ALTER TABLE shop ADD COLUMN IF NOT EXISTS taught BIGINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'counts the changes to what batches teach';
CREATE TABLE IF NOT EXISTS project (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  project    JSON NOT NULL COMMENT 'its parts with what they are to look like, and what may be used',
  revision   INT NOT NULL DEFAULT 1,
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY latest (shop_id, kept, touched_at, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'a colour, or several, that test batches are poured after';
ALTER TABLE batch
  MODIFY recipe_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'that it was poured from; none for one poured freely',
  MODIFY recipe_revision INT NULL,
  ADD COLUMN IF NOT EXISTS plastisol_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS known JSON NULL COMMENT 'what batches had taught of its bottles when it was written down',
  ADD COLUMN IF NOT EXISTS outcome JSON NULL COMMENT 'how it was poured and what came of it, besides its colour',
  ADD COLUMN IF NOT EXISTS project_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS part VARCHAR(40) NOT NULL DEFAULT '' COMMENT 'of the project',
  ADD INDEX IF NOT EXISTS of_project (shop_id, project_uid, recorded_at);
UPDATE batch b JOIN recipe_revision r ON r.shop_id = b.shop_id AND r.recipe_uid = b.recipe_uid AND r.revision = b.recipe_revision
  SET b.plastisol_uid = r.plastisol_uid WHERE b.plastisol_uid IS NULL;
