-- +goose Up
ALTER TABLE shop ADD COLUMN IF NOT EXISTS equipment JSON NULL COMMENT 'what the bench heats, holds and shoots with; NULL for the usual',
  ADD COLUMN IF NOT EXISTS equipment_revision INT NOT NULL DEFAULT 1;
CREATE TABLE IF NOT EXISTS pour (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  asked      JSON NOT NULL COMMENT 'what is to be poured',
  revision   INT NOT NULL DEFAULT 1,
  state      ENUM('planned', 'running', 'done') NOT NULL DEFAULT 'planned',
  run        JSON NULL COMMENT 'the plan that it was begun with',
  outcome    JSON NULL COMMENT 'what came of it',
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY latest (shop_id, kept, touched_at, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'a plan for baits, the run of it, and what came of it';
CREATE TABLE IF NOT EXISTS pour_cup (
  shop_id  BIGINT UNSIGNED NOT NULL,
  pour_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  cook     INT NOT NULL,
  cup_uid  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (shop_id, pour_uid, cook),
  FOREIGN KEY (shop_id, pour_uid) REFERENCES pour (shop_id, uid),
  FOREIGN KEY (shop_id, cup_uid) REFERENCES cup (shop_id, uid)
) COMMENT 'the cups on the bench that a run is cooked in';
CREATE TABLE IF NOT EXISTS pour_event (
  shop_id  BIGINT UNSIGNED NOT NULL,
  pour_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  n        INT NOT NULL,
  event    JSON NOT NULL,
  moved    JSON NULL COMMENT 'the cups that it moved, and where they stood',
  undone   BOOLEAN NOT NULL DEFAULT FALSE,
  taken_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, pour_uid, n),
  FOREIGN KEY (shop_id, pour_uid) REFERENCES pour (shop_id, uid)
) COMMENT 'what happened in a run, in its order';
CREATE TABLE IF NOT EXISTS stock_move (
  shop_id      BIGINT UNSIGNED NOT NULL,
  uid          VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  material_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind         ENUM('used', 'bought', 'counted') NOT NULL,
  amount       DOUBLE NOT NULL COMMENT 'ml of a liquid, g of a solid; what it changed by',
  left_after   DOUBLE NOT NULL,
  pour_uid     VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the run that used it',
  moved_at     DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY of_material (shop_id, material_uid, moved_at),
  KEY of_pour (shop_id, pour_uid),
  FOREIGN KEY (shop_id, material_uid) REFERENCES material (shop_id, uid)
) COMMENT 'what came onto the shelf and what was taken from it';
