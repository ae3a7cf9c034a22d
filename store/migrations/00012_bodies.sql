-- +goose Up
CREATE TABLE IF NOT EXISTS body (
  shop_id BIGINT UNSIGNED NOT NULL,
  uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  skin LONGBLOB NOT NULL COMMENT 'a closed mesh, packed',
  created_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'baits from files of the makers own';
