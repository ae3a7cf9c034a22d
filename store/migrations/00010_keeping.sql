-- +goose Up
ALTER TABLE shop ADD COLUMN IF NOT EXISTS currency VARCHAR(8) NOT NULL DEFAULT '€' COMMENT 'what prices are in';
ALTER TABLE recipe ADD INDEX IF NOT EXISTS near (shop_id, near_l, near_a, near_b, uid),
  ADD COLUMN IF NOT EXISTS kept ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here';
ALTER TABLE reference ADD COLUMN IF NOT EXISTS kept ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  ADD COLUMN IF NOT EXISTS with_uid VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin NULL COMMENT 'the reference of the same bait that this photo was joined to',
  ADD INDEX IF NOT EXISTS joined (shop_id, with_uid);
ALTER TABLE batch ADD COLUMN IF NOT EXISTS kept ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here';
ALTER TABLE cup ADD COLUMN IF NOT EXISTS kept ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  ADD COLUMN IF NOT EXISTS name VARCHAR(80) NOT NULL DEFAULT '' COMMENT 'given by the maker, or by the match that it was poured from';
ALTER TABLE bait ADD COLUMN IF NOT EXISTS kept ENUM('here', 'away', 'deleted') NOT NULL DEFAULT 'here',
  ADD COLUMN IF NOT EXISTS retired BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE bait SET kept = 'deleted' WHERE retired;
ALTER TABLE bait ADD INDEX IF NOT EXISTS kept (shop_id, kept, touched_at, uid), DROP INDEX IF EXISTS latest, DROP COLUMN IF EXISTS retired;
