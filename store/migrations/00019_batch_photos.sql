-- +goose Up
CREATE TABLE IF NOT EXISTS batch_photo (
  shop_id   BIGINT UNSIGNED NOT NULL,
  batch_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  photo_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  added_at  DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, batch_uid, photo_uid),
  FOREIGN KEY (shop_id, batch_uid) REFERENCES batch (shop_id, uid),
  FOREIGN KEY (shop_id, photo_uid) REFERENCES photo (shop_id, uid)
) COMMENT 'photos that were taken of a test batch after it was recorded';
