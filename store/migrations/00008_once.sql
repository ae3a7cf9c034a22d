-- +goose Up
CREATE TABLE IF NOT EXISTS once (
  shop_id BIGINT UNSIGNED NOT NULL,
  uid     VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'made by the device for one action, so that a retry is not a second one',
  what    VARCHAR(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL COMMENT 'the action; empty where nobody wrote it down',
  result  VARCHAR(400) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '' COMMENT 'uids of what it made',
  done_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6),
  PRIMARY KEY (shop_id, uid),
  KEY age (done_at),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
);
INSERT IGNORE INTO once (shop_id, uid, what, result, done_at) SELECT shop_id, step_uid, '', COALESCE(other_cup, ''), taken_at FROM cup_step;
