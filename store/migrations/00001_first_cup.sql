-- Amounts stand twice: as typed, and normalised to drops and millilitres.
-- Every row belongs to a shop, and its foreign keys carry the shop with them, so that no row can point across.
-- +goose Up
CREATE TABLE IF NOT EXISTS shop (
  id         BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name       VARCHAR(80) NOT NULL,
  demo       BOOLEAN NOT NULL DEFAULT FALSE,
  ready      BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'filled to the end',
  kit        JSON NULL COMMENT 'spoons owned and measures of the own naming; NULL for the usual set',
  created_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6)
);
CREATE TABLE IF NOT EXISTS material (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  kind       VARCHAR(16) NOT NULL,
  name       VARCHAR(80) NOT NULL,
  properties JSON NOT NULL,
  revision   INT NOT NULL DEFAULT 1,
  stock      JSON NULL COMMENT 'how much is left, what it cost; private to the shop',
  retired    BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'off the shelf, kept for the recipes that used it',
  created_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
CREATE TABLE IF NOT EXISTS photo (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  width_px   INT NOT NULL,
  height_px  INT NOT NULL,
  jpeg       MEDIUMBLOB NOT NULL,
  created_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
CREATE TABLE IF NOT EXISTS reference (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  photo_uid  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  created_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id, photo_uid) REFERENCES photo (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS pin (
  shop_id       BIGINT UNSIGNED NOT NULL,
  reference_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  uid           VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name          VARCHAR(80) NOT NULL,
  x_px          DOUBLE NOT NULL,
  y_px          DOUBLE NOT NULL,
  radius_px     DOUBLE NOT NULL,
  thickness_mm  DOUBLE NOT NULL,
  ground        VARCHAR(16) NOT NULL,
  reading       JSON NOT NULL,
  created_at    DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, reference_uid, uid),
  FOREIGN KEY (shop_id, reference_uid) REFERENCES reference (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS recipe (
  shop_id  BIGINT UNSIGNED NOT NULL,
  uid      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT NOT NULL,
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
CREATE TABLE IF NOT EXISTS recipe_revision (
  shop_id       BIGINT UNSIGNED NOT NULL,
  recipe_uid    VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision      INT NOT NULL,
  name          VARCHAR(80) NOT NULL,
  notes         TEXT NOT NULL,
  volume_typed  VARCHAR(40) NOT NULL,
  volume_ml     DOUBLE NOT NULL,
  plastisol_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  work_c        DOUBLE NOT NULL DEFAULT 0 COMMENT 'working temperature, 0 for the usual',
  target        JSON NULL,
  tags          JSON NULL,
  credit        VARCHAR(120) NOT NULL DEFAULT '',
  own_use       BOOLEAN NOT NULL DEFAULT FALSE,
  fork_of       VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  note          VARCHAR(400) NOT NULL DEFAULT '' COMMENT 'why this version',
  saved_at      DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, recipe_uid, revision),
  FOREIGN KEY (shop_id, recipe_uid) REFERENCES recipe (shop_id, uid),
  FOREIGN KEY (shop_id, plastisol_uid) REFERENCES material (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS recipe_dose (
  shop_id      BIGINT UNSIGNED NOT NULL,
  recipe_uid   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision     INT NOT NULL,
  position     INT NOT NULL,
  material_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  typed        VARCHAR(60) NOT NULL,
  amount       DOUBLE NOT NULL,
  unit         VARCHAR(8) NOT NULL,
  low          DOUBLE NOT NULL DEFAULT 0 COMMENT 'an estimate: at least; both 0 where it was measured',
  high         DOUBLE NOT NULL DEFAULT 0,
  ml           DOUBLE NOT NULL COMMENT 'true volume',
  grams        DOUBLE NOT NULL,
  PRIMARY KEY (shop_id, recipe_uid, revision, position),
  FOREIGN KEY (shop_id, recipe_uid, revision) REFERENCES recipe_revision (shop_id, recipe_uid, revision),
  FOREIGN KEY (shop_id, material_uid) REFERENCES material (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS cup (
  shop_id         BIGINT UNSIGNED NOT NULL,
  uid             VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  head            INT NOT NULL DEFAULT 0 COMMENT 'number of the step that the cup stands at',
  start           JSON NOT NULL COMMENT 'the cup before its first step',
  recipe_uid      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  recipe_revision INT NULL,
  rewind_uid      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'the last undo or redo, so that a retry is not a second one',
  gone            BOOLEAN NOT NULL DEFAULT FALSE COMMENT 'poured into another cup, or a split undone',
  touched_at      DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY touched (shop_id, touched_at),
  FOREIGN KEY (shop_id) REFERENCES shop (id),
  FOREIGN KEY (shop_id, recipe_uid) REFERENCES recipe (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS cup_step (
  shop_id  BIGINT UNSIGNED NOT NULL,
  cup_uid  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  n        INT NOT NULL,
  step_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'made by the device, so that a retry is not a second drop',
  step     JSON NOT NULL,
  after    JSON NOT NULL COMMENT 'the cup after this step',
  other_cup  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the second cup of a split or a merge',
  other_head INT NULL COMMENT 'where that cup stood',
  taken_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, cup_uid, n),
  UNIQUE KEY once (shop_id, cup_uid, step_uid),
  FOREIGN KEY (shop_id, cup_uid) REFERENCES cup (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS batch (
  shop_id         BIGINT UNSIGNED NOT NULL,
  uid             VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  recipe_uid      VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  recipe_revision INT NOT NULL,
  poured_on       DATE NOT NULL,
  volume_typed    VARCHAR(40) NOT NULL,
  volume_ml       DOUBLE NOT NULL,
  rested_hours    DOUBLE NOT NULL,
  verdict         VARCHAR(1000) NOT NULL,
  photo_uid       VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
  recorded_at     DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id, recipe_uid, recipe_revision) REFERENCES recipe_revision (shop_id, recipe_uid, revision),
  FOREIGN KEY (shop_id, photo_uid) REFERENCES photo (shop_id, uid)
);
CREATE TABLE IF NOT EXISTS batch_dose (
  shop_id      BIGINT UNSIGNED NOT NULL,
  batch_uid    VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  go_number    INT NOT NULL,
  position     INT NOT NULL,
  material_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  typed        VARCHAR(60) NOT NULL,
  amount       DOUBLE NOT NULL,
  unit         VARCHAR(8) NOT NULL,
  low          DOUBLE NOT NULL DEFAULT 0 COMMENT 'an estimate: at least; both 0 where it was measured',
  high         DOUBLE NOT NULL DEFAULT 0,
  ml           DOUBLE NOT NULL COMMENT 'true volume',
  grams        DOUBLE NOT NULL,
  PRIMARY KEY (shop_id, batch_uid, go_number, position),
  FOREIGN KEY (shop_id, batch_uid) REFERENCES batch (shop_id, uid),
  FOREIGN KEY (shop_id, material_uid) REFERENCES material (shop_id, uid)
);
