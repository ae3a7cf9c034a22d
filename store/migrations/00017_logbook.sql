-- +goose Up
CREATE TABLE IF NOT EXISTS log_entry (
  shop_id    BIGINT UNSIGNED NOT NULL,
  uid        VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  day        DATE NOT NULL,
  name       VARCHAR(80) NOT NULL,
  entry      JSON NOT NULL,
  words      TEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL COMMENT 'all that it is found by, in small letters; tags with a # before',
  season     ENUM('spring', 'summer', 'autumn', 'winter') NOT NULL,
  lab_l      DOUBLE NULL,
  lab_a      DOUBLE NULL,
  lab_b      DOUBLE NULL,
  good       INT NOT NULL DEFAULT 0,
  spoiled    INT NOT NULL DEFAULT 0,
  caught     INT NOT NULL DEFAULT 0,
  sold       INT NOT NULL DEFAULT 0,
  pour_uid   VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the run that it is of',
  revision   INT NOT NULL DEFAULT 1,
  kept       ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  PRIMARY KEY (shop_id, uid),
  KEY by_day (shop_id, kept, day, uid, season),
  KEY by_colour (shop_id, lab_l, lab_a, lab_b, kept),
  FOREIGN KEY (shop_id) REFERENCES shop (id)
) COMMENT 'what was poured and how it fished';
