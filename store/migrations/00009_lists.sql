-- +goose Up
ALTER TABLE cup_step DROP INDEX IF EXISTS once, DROP COLUMN IF EXISTS step_uid;
ALTER TABLE cup DROP COLUMN IF EXISTS rewind_uid, DROP INDEX IF EXISTS touched, ADD INDEX IF NOT EXISTS latest (shop_id, gone, touched_at, uid);
ALTER TABLE shop ADD COLUMN IF NOT EXISTS kit_revision INT NOT NULL DEFAULT 1 COMMENT 'counts the changes of the kit';
ALTER TABLE reference ADD COLUMN IF NOT EXISTS revision INT NOT NULL DEFAULT 1 COMMENT 'counts the changes', ADD INDEX IF NOT EXISTS latest (shop_id, created_at, uid);
ALTER TABLE bait ADD INDEX IF NOT EXISTS latest (shop_id, retired, touched_at, uid);
ALTER TABLE batch ADD INDEX IF NOT EXISTS latest (shop_id, poured_on, recorded_at, uid), ADD INDEX IF NOT EXISTS latest_of (shop_id, recipe_uid, poured_on, recorded_at, uid);
ALTER TABLE recipe_revision
  ADD COLUMN IF NOT EXISTS seen JSON NULL COMMENT 'its colours as its materials are now; none where they have to be worked out again';
ALTER TABLE recipe
  ADD COLUMN IF NOT EXISTS near_l DOUBLE NULL COMMENT 'Lab of its newest version at 5 mm over white; none where that has to be worked out again',
  ADD COLUMN IF NOT EXISTS near_a DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS near_b DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS saved_at DATETIME(6) NULL COMMENT 'when its newest version was saved', ADD INDEX IF NOT EXISTS latest (shop_id, saved_at, uid);
UPDATE recipe r JOIN recipe_revision v ON v.shop_id = r.shop_id AND v.recipe_uid = r.uid AND v.revision = r.revision SET r.saved_at = v.saved_at WHERE r.saved_at IS NULL;
