-- +goose Up
CREATE TABLE IF NOT EXISTS batch_reading (
  shop_id   BIGINT UNSIGNED NOT NULL,
  uid       VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  batch_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  reading   JSON NOT NULL COMMENT 'a colour of a part of it, and how it was read',
  PRIMARY KEY (shop_id, uid),
  FOREIGN KEY (shop_id, batch_uid) REFERENCES batch (shop_id, uid)
) COMMENT 'what was read of test batches; what it teaches is worked out from here';
