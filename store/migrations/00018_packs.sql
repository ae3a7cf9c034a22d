-- +goose Up
CREATE TABLE IF NOT EXISTS supply (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  doc        JSON NOT NULL COMMENT 'what it is counted in, what is left, what it costs',
  revision   INT NOT NULL DEFAULT 1,
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY latest (shop_id, kept, touched_at, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'what a pack takes besides baits: eyes, glue, bags, labels';
CREATE TABLE IF NOT EXISTS pack (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  doc        JSON NOT NULL COMMENT 'what goes into it',
  ready      INT NOT NULL DEFAULT 0 COMMENT 'packs that are made up and not sold',
  revision   INT NOT NULL DEFAULT 1,
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY latest (shop_id, kept, touched_at, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'a bag as it is sold';
CREATE TABLE IF NOT EXISTS packed (
  shop_id   BIGINT UNSIGNED NOT NULL,
  uid       VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  pack_uid  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  bait_uid  VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  count     INT NOT NULL COMMENT 'baits that went into bags',
  packed_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY of_bait (shop_id, bait_uid),
  FOREIGN KEY (shop_id, pack_uid) REFERENCES pack (shop_id, uid)
) COMMENT 'which baits went into which packs';
