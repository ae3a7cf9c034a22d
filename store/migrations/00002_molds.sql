-- +goose Up
CREATE TABLE IF NOT EXISTS mold (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision   INT NOT NULL DEFAULT 1,
  name       VARCHAR(80) NOT NULL,
  doc        JSON NOT NULL,
  retired    BOOLEAN NOT NULL DEFAULT FALSE,
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
CREATE TABLE IF NOT EXISTS bait (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision   INT NOT NULL DEFAULT 1 COMMENT 'the version that counts',
  name       VARCHAR(80) NOT NULL,
  retired    BOOLEAN NOT NULL DEFAULT FALSE,
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
CREATE TABLE IF NOT EXISTS bait_version (
  shop_id  BIGINT UNSIGNED NOT NULL,
  bait_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  revision INT NOT NULL,
  doc      JSON NOT NULL,
  saved_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, bait_uid, revision),
  FOREIGN KEY (shop_id, bait_uid) REFERENCES bait (shop_id, uid)
);
