-- +goose Up
CREATE TABLE IF NOT EXISTS leftover (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name       VARCHAR(80) NOT NULL,
  doc        JSON NOT NULL COMMENT 'what is in it, and the heat it has taken',
  revision   INT NOT NULL DEFAULT 1,
  pour_uid   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the run that left it',
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  touched_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY latest (shop_id, kept, touched_at, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'plastic that is kept to be melted again';
